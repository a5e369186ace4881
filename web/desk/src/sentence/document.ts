import type { JSONContent } from '@tiptap/core';
import { type Marks, type Part, readSentence, writeSentence } from './language';

type Mark = NonNullable<JSONContent['marks']>[number];

const marksOf = (part: Part): Mark[] => [
  ...(part.bold ? [{ type: 'bold' }] : []),
  ...(part.italic ? [{ type: 'italic' }] : []),
  ...(part.underline ? [{ type: 'underline' }] : []),
  ...(part.link === undefined ? [] : [{ type: 'link', attrs: { href: part.link } }]),
];

/** The editor's document of a message: a paragraph for each line, a block for each token. */
export function documentOf(message: string): JSONContent {
  const lines: JSONContent[][] = [[]];
  for (const part of readSentence(message)) {
    const marks = marksOf(part);
    if (part.is === 'text' && part.text === '\n') lines.push([]);
    else if (part.is === 'text') lines[lines.length - 1]?.push({ type: 'text', text: part.text, marks });
    else lines[lines.length - 1]?.push({ type: 'token', attrs: { part: bare(part) }, marks });
  }
  return { type: 'doc', content: lines.map((content) => ({ type: 'paragraph', content })) };
}

/** A block's part without how it is set off, which its marks say. */
export function bare(part: Exclude<Part, { is: 'text' }>): Exclude<Part, { is: 'text' }> {
  const { bold: _b, italic: _i, underline: _u, link: _l, ...rest } = part;
  return rest as Exclude<Part, { is: 'text' }>;
}

function marksIn(node: JSONContent): Marks {
  const found: Marks = {};
  for (const mark of node.marks ?? []) {
    if (mark.type === 'bold') found.bold = true;
    if (mark.type === 'italic') found.italic = true;
    if (mark.type === 'underline') found.underline = true;
    if (mark.type === 'link') found.link = String(mark.attrs?.href ?? '');
  }
  return found;
}

/** The parts of the editor's document. */
export function partsIn(document: JSONContent): Part[] {
  return (document.content ?? []).flatMap((paragraph, line): Part[] => {
    const parts = (paragraph.content ?? []).flatMap((node): Part[] =>
      node.type === 'text'
        ? [{ is: 'text', text: node.text ?? '', ...marksIn(node) }]
        : node.type === 'token'
          ? [{ ...(node.attrs?.part as Exclude<Part, { is: 'text' }>), ...marksIn(node) }]
          : [],
    );
    return line === 0 ? parts : [{ is: 'text', text: '\n' }, ...parts];
  });
}

/** The message that the editor's document comes to. */
export const messageOf = (document: JSONContent): string => writeSentence(partsIn(document));
