import type { Brief } from '../callouts/api';

/** A draft as two people may write it at once. */
export interface Draft {
  name: string;
  brief: Brief;
}

/** What two people changed apart, put together. */
export interface Merged {
  draft: Draft;
  /** Parts that both changed, differently; in `draft` they are mine. */
  both: readonly Part[];
}

/** A part of a draft that is merged as a whole. */
export type Part = 'name' | keyof Brief;

const WORDS: Record<Part, string> = {
  name: 'the name',
  kind: 'the kind',
  say: 'Say',
  from: 'From',
  where: 'Where',
  who: 'Who',
  when: 'When',
  howOften: 'How often',
  look: 'Look',
  priority: 'the priority',
  holdbackPercent: 'how many are shown nothing',
};

/** How a part is called on the page. */
export const partWords = (part: Part): string => WORDS[part];

/**
 * Puts two people's changes of one draft together, part by part.
 *
 * @param base - What both began with.
 */
export function merge(base: Draft, mine: Draft, theirs: Draft): Merged {
  const both: Part[] = [];
  const pick = <T>(part: Part, was: T, my: T, their: T): T => {
    if (same(my, was) || same(my, their)) return their;
    if (!same(their, was)) both.push(part);
    return my;
  };
  const brief = { ...mine.brief };
  for (const part of Object.keys(mine.brief) as (keyof Brief)[])
    Object.assign(brief, { [part]: pick(part, base.brief[part], mine.brief[part], theirs.brief[part]) });
  return { draft: { name: pick('name', base.name, mine.name, theirs.name), brief }, both };
}

/** The same with some parts as they have them. */
export function withParts(draft: Draft, parts: readonly Part[], from: Draft): Draft {
  const brief = { ...draft.brief };
  for (const part of parts) if (part !== 'name') Object.assign(brief, { [part]: from.brief[part] });
  return { name: parts.includes('name') ? from.name : draft.name, brief };
}

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
