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

/** What was typed after "@" at the end of a text, as far as it may become a name; undefined where nothing was. */
export function mentionAt(text: string): string | undefined {
  const found = /(?:^|\s)@([\p{L}\p{M}'’. -]{0,40})$/u.exec(text);
  return found && !found[1]?.includes('  ') ? found[1] : undefined;
}

/** A text with the sign at its end, and what was typed after it, taken away for what was chosen: as it stands, whatever signs are in that. */
export const putIn = (text: string, sign: '/' | '@', chosen: string): string => text.slice(0, text.lastIndexOf(sign)) + chosen;

/** Whom a note names: by the whole name, or by the first one where nobody else is called so. */
export function mentioned(text: string, members: readonly { id: string; name: string }[]): string[] {
  const first = (name: string) => name.split(' ')[0] ?? name;
  const names = (name: string) =>
    new RegExp(`(^|\\s)@${name.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}(?![\\p{L}\\p{M}\\p{Nd}])`, 'iu').test(text);
  return members
    .filter((m) => names(m.name) || (names(first(m.name)) && members.filter((o) => first(o.name) === first(m.name)).length === 1))
    .map((m) => m.id);
}
