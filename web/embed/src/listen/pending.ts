import type { WatchedForm } from '../core/types';

/** A form that was sent and whose sign of success is still to come. */
export interface Pending {
  source: string;
  fields: Record<string, string>;
  /** A regular expression over the path of the page that proves it. */
  page: string | undefined;
  /** A selector of the element that proves it. */
  element: string | undefined;
  /** Unix milliseconds after which it no longer counts. */
  until: number;
}

/** A thank-you page is reached within this time; an element comes sooner, but may stand on the next page. */
const PAGE_WITHIN_MS = 600_000;
const ELEMENT_WITHIN_MS = 60_000;

/** What a sent form waits for; `undefined` when being sent is enough. */
export function pendingOf(watched: WatchedForm, fields: Record<string, string>, nowMs: number): Pending | undefined {
  if (!watched.page && !watched.element) return undefined;
  const within = watched.page ? PAGE_WITHIN_MS : ELEMENT_WITHIN_MS;
  return { source: watched.source, fields, page: watched.page, element: watched.element, until: nowMs + within };
}

/**
 * Parts what has proved itself from what still waits; what waited too long is in neither.
 *
 * @param path - Of the page as it is now, as the address has it.
 * @param shows - Whether an element of a selector is on the page and visible.
 */
export function settle(pending: Pending[], path: string, nowMs: number, shows: (selector: string) => boolean) {
  const proved: Pending[] = [];
  const waiting: Pending[] = [];
  const here = path.toLowerCase().replace(/(.)\/$/, '$1');
  for (const one of pending) if (one.until > nowMs) (proves(one, here, shows) ? proved : waiting).push(one);
  return { proved, waiting };
}

function proves(one: Pending, path: string, shows: (selector: string) => boolean): boolean {
  try {
    return one.page ? new RegExp(one.page).test(decodeURI(path)) : !!one.element && shows(one.element);
  } catch {
    // A path that is not well encoded, or a selector that is none: neither proves anything.
    return false;
  }
}
