/** What was, what is, and what was undone. */
export interface History<T> {
  past: readonly T[];
  now: T;
  future: readonly T[];
}

/** States kept at most. */
export const MOST_KEPT = 200;

/** Changes within this time of each other are one step: a word typed, not a letter. */
export const ONE_STEP_MS = 700;

export const begin = <T>(now: T): History<T> => ({ past: [], now, future: [] });

/**
 * Goes on to another state.
 *
 * @param joins - Whether the change belongs to the step before it, so that both are undone together.
 */
export function go<T>(history: History<T>, now: T, joins: boolean): History<T> {
  const past = joins && history.past.length > 0 ? history.past : [...history.past, history.now].slice(-MOST_KEPT);
  return { past, now, future: [] };
}

/** One step back; the same when there is none. */
export function undo<T>(history: History<T>): History<T> {
  const before = history.past[history.past.length - 1];
  if (before === undefined) return history;
  return { past: history.past.slice(0, -1), now: before, future: [history.now, ...history.future] };
}

/** One step forward again; the same when nothing was undone. */
export function redo<T>(history: History<T>): History<T> {
  const [next, ...rest] = history.future;
  if (next === undefined) return history;
  return { past: [...history.past, history.now], now: next, future: rest };
}
