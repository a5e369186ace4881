import { useSyncExternalStore } from 'react';

/** Something said in passing, with one act that may be wanted now. */
export interface Toast {
  id: number;
  words: string;
  isBad: boolean;
  act?: { words: string; run(): void } | undefined;
}

/** Shown at most at once; older ones give way. */
const MOST_SHOWN = 3;

let shown: readonly Toast[] = [];
let next = 1;
const listeners = new Set<() => void>();

function put(toasts: readonly Toast[]) {
  shown = toasts;
  for (const listener of listeners) listener();
}

/** Says something in passing; what is said already is not said twice. */
export function say(words: string, more: { isBad?: boolean; act?: Toast['act'] } = {}): void {
  if (shown.some((t) => t.words === words)) return;
  put([...shown, { id: next++, words, isBad: more.isBad ?? false, act: more.act }].slice(-MOST_SHOWN));
}

/** Takes one away. */
export const dismiss = (id: number) => put(shown.filter((t) => t.id !== id));

/** What is said now. */
export const useToasts = () =>
  useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => shown,
  );
