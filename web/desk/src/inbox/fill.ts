/** What a saved reply may name. */
export interface ReplyFacts {
  name: string;
  page: string;
  member: string;
}

/** A saved reply with what it names put in; a fallback stands where nothing is known. */
export const fillReply = (text: string, facts: ReplyFacts): string =>
  text.replace(
    /\{\{\s*(name|page|member)\s*(?:\|\s*default:\s*"([^"]*)"\s*)?\}\}/g,
    (_, token: keyof ReplyFacts, fallback: string | undefined) => facts[token] || fallback || '',
  );

/** The shortcut that is being typed at the end: "/ho" gives "ho"; undefined where none is. */
export const shortcutAt = (text: string): string | undefined => /(?:^|\s)\/([\p{L}\p{Nd}-]*)$/u.exec(text)?.[1];
