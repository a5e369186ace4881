/** What of a sentence is set off. */
export interface Marks {
  bold?: true;
  italic?: true;
  underline?: true;
  /** Where it leads. */
  link?: string;
}

/** What a sentence is made of, in order. */
export type Part =
  | ({ is: 'text'; text: string } & Marks)
  /** A field of the event, and what stands there when it is empty: own words, or another field. */
  | ({ is: 'token'; name: string; otherwise?: { text: string } | { token: string } } & Marks)
  /** A word that follows a number, in the forms that the language has. */
  | ({ is: 'plural'; name: string; forms: Readonly<Record<string, string>> } & Marks)
  /** Something written by hand that has no other shape here; kept as it is. */
  | ({ is: 'raw'; source: string } & Marks);

const MARKS = ['link', 'bold', 'italic', 'underline'] as const;
const TOKEN = /\{\{[^{}]*\}\}/y;
const NAME = String.raw`[A-Za-z_][\w.]*`;
const QUOTED = `"[^"]*"|'[^']*'`;
const PLAIN = new RegExp(String.raw`^\s*(${NAME})\s*(?:\|\s*default:\s*(?:(${QUOTED})|(${NAME}))\s*)?$`);
const PLURAL = new RegExp(String.raw`^\s*(${NAME})\s*\|\s*plural:\s*((?:\w+:\s*(?:${QUOTED})\s*,?\s*)+)$`);
const FORM = new RegExp(String.raw`(\w+):\s*(${QUOTED})`, 'g');

const unquoted = (quoted: string) => quoted.slice(1, -1);

/** Reads a message, Liquid tokens in a small Markdown, as its parts. A line break is a text "\n" of its own. */
export function readSentence(message: string): Part[] {
  return joined(readRun(message.replace(/\r\n?/g, '\n'), {}));
}

interface Delimiter {
  open: string;
  mark: 'bold' | 'italic' | 'underline';
}

const DELIMITERS: readonly Delimiter[] = [
  { open: '**', mark: 'bold' },
  { open: '__', mark: 'bold' },
  { open: '++', mark: 'underline' },
  { open: '*', mark: 'italic' },
  { open: '_', mark: 'italic' },
];

const isWord = (c: string | undefined) => c !== undefined && /[\p{L}\p{N}]/u.test(c);
const isSpace = (c: string | undefined) => c === undefined || /\s/.test(c);

function readRun(text: string, marks: Marks): Part[] {
  const parts: Part[] = [];
  let plain = '';
  const flush = () => {
    if (plain) parts.push({ is: 'text', text: plain, ...marks });
    plain = '';
  };
  for (let at = 0; at < text.length; ) {
    const char = text[at] ?? '';
    if (char === '\\' && /[!-/:-@[-`{-~]/.test(text[at + 1] ?? '')) {
      plain += text[at + 1];
      at += 2;
      continue;
    }
    TOKEN.lastIndex = at;
    const token = char === '{' ? TOKEN.exec(text)?.[0] : undefined;
    if (token) {
      flush();
      parts.push({ ...readToken(token), ...marks });
      at += token.length;
      continue;
    }
    if (char === '\n') {
      flush();
      parts.push({ is: 'text', text: '\n' });
      at++;
      continue;
    }
    const link = char === '[' ? readLink(text, at) : undefined;
    if (link && !marks.link) {
      flush();
      parts.push(...readRun(link.words, { ...marks, link: link.address }));
      at = link.ends;
      continue;
    }
    const both = char === '*' && !marks.bold && !marks.italic ? readBoth(text, at) : undefined;
    if (both) {
      flush();
      parts.push(...readRun(both.inner, { ...marks, bold: true, italic: true }));
      at = both.ends;
      continue;
    }
    const found = readDelimited(text, at, marks);
    if (found) {
      flush();
      parts.push(...readRun(found.inner, { ...marks, [found.mark]: true }));
      at = found.ends;
      continue;
    }
    plain += char;
    at++;
  }
  flush();
  return parts;
}

// Where a token stands its inside is no Markdown.
function skipToken(text: string, at: number): number {
  TOKEN.lastIndex = at;
  return text[at] === '{' ? (TOKEN.exec(text)?.[0].length ?? 0) : 0;
}

function readDelimited(text: string, at: number, marks: Marks): { inner: string; mark: Delimiter['mark']; ends: number } | undefined {
  for (const { open, mark } of DELIMITERS) {
    if (!text.startsWith(open, at) || marks[mark]) continue;
    const after = at + open.length;
    if (isSpace(text[after]) || (open[0] === '_' && isWord(text[at - 1]))) continue;
    for (let end = after + 1; end <= text.length - open.length; ) {
      const skipped = skipToken(text, end);
      if (skipped) {
        end += skipped;
        continue;
      }
      if (text[end] === '\\') {
        end += 2;
        continue;
      }
      const closes =
        text.startsWith(open, end) &&
        !isSpace(text[end - 1]) &&
        !(open[0] === '_' && isWord(text[end + open.length])) &&
        // Of "*a **b***" the inner pair closes first.
        !(open.length === 1 && (text[end + 1] === open || text[end - 1] === open) && !isClosing(text, end, open));
      if (closes) return { inner: text.slice(after, end), mark, ends: end + open.length };
      end++;
    }
  }
  return undefined;
}

// Bold and italic at once, with nothing set off inside: "***so***".
function readBoth(text: string, at: number): { inner: string; ends: number } | undefined {
  const [whole, inner] = /^\*{3}((?:\{\{[^{}]*\}\}|\\.|[^*\\\n])+)\*{3}(?!\*)/.exec(text.slice(at)) ?? [];
  return whole && inner && inner === inner.trim() ? { inner, ends: at + whole.length } : undefined;
}

// Of a run of three the last is the single one's.
const isClosing = (text: string, end: number, open: string) => text.slice(end - 2, end + 1) === open.repeat(3) && text[end + 1] !== open;

function readLink(text: string, at: number): { words: string; address: string; ends: number } | undefined {
  const [whole, words, address] = /^\[((?:[^[\]\\]|\\.)*)\]\(([^()\s]*)\)/.exec(text.slice(at)) ?? [];
  return whole && words !== undefined && address !== undefined ? { words, address, ends: at + whole.length } : undefined;
}

function readToken(source: string): Part {
  const inside = source.slice(2, -2);
  const plain = PLAIN.exec(inside);
  if (plain) {
    const [, name = '', quoted, token] = plain;
    if (quoted !== undefined) return { is: 'token', name, otherwise: { text: unquoted(quoted) } };
    if (token !== undefined) return { is: 'token', name, otherwise: { token } };
    return { is: 'token', name };
  }
  const plural = PLURAL.exec(inside);
  if (plural) {
    const [, name = '', forms = ''] = plural;
    return { is: 'plural', name, forms: Object.fromEntries([...forms.matchAll(FORM)].map(([, form = '', q = '']) => [form, unquoted(q)])) };
  }
  return { is: 'raw', source };
}

const sameMarks = (a: Marks, b: Marks) => MARKS.every((m) => a[m] === b[m]);

function joined(parts: readonly Part[]): Part[] {
  const all: Part[] = [];
  for (const part of parts) {
    const last = all[all.length - 1];
    if (part.is === 'text' && last?.is === 'text' && part.text !== '\n' && last.text !== '\n' && sameMarks(part, last))
      all[all.length - 1] = { ...last, text: last.text + part.text };
    else all.push(part);
  }
  return all;
}

const quote = (text: string) => (text.includes('"') ? (text.includes("'") ? `"${text.replace(/"/g, '”')}"` : `'${text}'`) : `"${text}"`);

// Braces cannot be escaped in a template: two together are set apart.
const escaped = (text: string, startsLine: boolean) =>
  text
    .replace(/[\\*[\]`]/g, String.raw`\$&`)
    .replace(/\+\+/g, String.raw`\+\+`)
    .replace(/(?<![\p{L}\p{N}])_|_(?![\p{L}\p{N}])/gu, String.raw`\_`)
    .replace(/<(?=[a-z/!])/gi, String.raw`\<`)
    .replace(/\{(?=[{%])/g, '{ ')
    .replace(startsLine ? /^(#{1,6}(?=\s)|>|[-+](?=\s))/ : /$^/, String.raw`\$1`)
    .replace(startsLine ? /^(\d+)([.)])(?=\s)/ : /$^/, String.raw`$1\$2`);

function writePart(part: Part, startsLine: boolean): string {
  switch (part.is) {
    case 'text':
      return part.text === '\n' ? '\n' : escaped(part.text, startsLine);
    case 'token':
      if (!part.otherwise) return `{{ ${part.name} }}`;
      return `{{ ${part.name} | default: ${'token' in part.otherwise ? part.otherwise.token : quote(part.otherwise.text)} }}`;
    case 'plural': {
      const forms = Object.entries(part.forms).map(([form, words]) => `${form}: ${quote(words)}`);
      return `{{ ${part.name} | plural: ${forms.join(', ')} }}`;
    }
    case 'raw':
      return part.source;
  }
}

const SIGNS = { bold: '**', italic: '*', underline: '++' } as const;

// Emphasis cannot begin or end beside a space: the space is set outside of it.
function spacesOutside(parts: readonly Part[]): Part[] {
  const all: Part[] = [];
  parts.forEach((part, place) => {
    if (part.is !== 'text' || part.text === '\n') {
      all.push(part);
      return;
    }
    const kept = (...neighbours: (Part | undefined)[]): Marks =>
      Object.fromEntries(
        MARKS.filter((m) => part[m] !== undefined && neighbours.every((n) => n?.[m] === part[m])).map((m) => [m, part[m]]),
      );
    const [, before = '', core = '', after = ''] = /^(\s*)([\s\S]*?)(\s*)$/.exec(part.text) ?? [];
    if (before) all.push({ is: 'text', text: before, ...(core ? kept(parts[place - 1]) : kept(parts[place - 1], parts[place + 1])) });
    if (core) all.push({ ...part, text: core });
    if (after) all.push({ is: 'text', text: after, ...kept(parts[place + 1]) });
  });
  return joined(all);
}

/** Writes the parts as the message that is kept. */
export function writeSentence(parts: readonly Part[]): string {
  let written = '';
  let open: (typeof MARKS)[number][] = [];
  let address = '';
  const close = (to: number) => {
    for (const mark of open.slice(to).reverse()) written += mark === 'link' ? `](${address})` : SIGNS[mark];
    open = open.slice(0, to);
  };
  for (const part of spacesOutside(joined(parts))) {
    const wanted = part.is === 'text' && part.text === '\n' ? [] : MARKS.filter((m) => part[m] !== undefined);
    let shared = 0;
    while (shared < open.length && open[shared] === wanted[shared] && (open[shared] !== 'link' || part.link === address)) shared++;
    close(shared);
    const startsLine = written === '' || written.endsWith('\n');
    for (const mark of wanted.slice(shared)) {
      if (mark === 'link') address = (part.link ?? '').replace(/[()\s]/g, encodeURIComponent);
      written += mark === 'link' ? '[' : SIGNS[mark];
      open.push(mark);
    }
    written += writePart(part, startsLine && wanted.length === 0);
  }
  close(0);
  return written;
}

/** "first name" for "first_name". */
export const tokenWords = (name: string) => name.replace(/[_.]/g, ' ');

/** What a block says: "first name, else Someone". */
export function blockWords(part: Exclude<Part, { is: 'text' }>): string {
  if (part.is === 'raw') return part.source.slice(2, -2).trim();
  if (part.is === 'plural') return Object.values(part.forms).join(' / ');
  if (!part.otherwise) return tokenWords(part.name);
  return `${tokenWords(part.name)}, else ${'token' in part.otherwise ? tokenWords(part.otherwise.token) : part.otherwise.text}`;
}

/** A form's numbers, as examples: English "one" is 1, "other" is 0, 2, 5. */
export interface PluralForm {
  name: string;
  examples: readonly number[];
}

const TRIED = [0, 1, 2, 3, 4, 5, 6, 11, 21, 100];

/** The forms a language has, in the order of Unicode's plural rules, each with numbers that take it. */
export function pluralForms(language: string): PluralForm[] {
  let rules: Intl.PluralRules;
  try {
    rules = new Intl.PluralRules(language);
  } catch {
    // A tag that is still being typed.
    rules = new Intl.PluralRules('en');
  }
  const names = new Set<string>([...rules.resolvedOptions().pluralCategories, 'other']);
  return ['zero', 'one', 'two', 'few', 'many', 'other']
    .filter((name) => names.has(name))
    .map((name) => ({ name, examples: TRIED.filter((n) => rules.select(n) === name).slice(0, 3) }));
}

/** How many letters there are to read, tokens counted as what they are worth. */
export const lengthOf = (parts: readonly Part[], examples: Readonly<Record<string, string>>): number =>
  parts.reduce((sum, part) => {
    if (part.is === 'text') return sum + part.text.length;
    if (part.is === 'token')
      return (
        sum + (examples[part.name] ?? (part.otherwise && 'text' in part.otherwise ? part.otherwise.text : tokenWords(part.name))).length
      );
    return sum + (part.is === 'plural' ? (part.forms.other ?? '').length : 0);
  }, 0);
