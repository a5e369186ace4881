/** A draft as two people may write it at once. */
export interface Draft<T extends object> {
  name: string;
  brief: T;
}

/** A part of a draft that is merged as a whole. */
export type Part<T extends object> = 'name' | (keyof T & string);

/** What two people changed apart, put together. */
export interface Merged<T extends object> {
  draft: Draft<T>;
  /** Parts that both changed, differently; in `draft` they are mine. */
  both: readonly Part<T>[];
}

/**
 * Puts two people's changes of one draft together, part by part.
 *
 * @param base - What both began with.
 */
export function merge<T extends object>(base: Draft<T>, mine: Draft<T>, theirs: Draft<T>): Merged<T> {
  const both: Part<T>[] = [];
  const pick = <V>(part: Part<T>, was: V, my: V, their: V): V => {
    if (same(my, was) || same(my, their)) return their;
    if (!same(their, was)) both.push(part);
    return my;
  };
  const brief = { ...mine.brief };
  for (const part of Object.keys(mine.brief) as (keyof T & string)[])
    brief[part] = pick(part, base.brief[part], mine.brief[part], theirs.brief[part]);
  return { draft: { name: pick('name', base.name, mine.name, theirs.name), brief }, both };
}

/** The same with some parts as they have them. */
export function withParts<T extends object>(draft: Draft<T>, parts: readonly Part<T>[], from: Draft<T>): Draft<T> {
  const brief = { ...draft.brief };
  for (const part of parts) if (part !== 'name') brief[part] = from.brief[part];
  return { name: parts.includes('name') ? from.name : draft.name, brief };
}

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
