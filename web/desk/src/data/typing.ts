import { useSyncExternalStore } from 'react';

/** Whoever is not heard writing again within this time has stopped. */
const FOR_MS = 5_000;

let typing: Readonly<Record<string, { name: string; until: number }>> = {};
const listeners = new Set<() => void>();

function put(next: typeof typing) {
  typing = next;
  for (const listener of listeners) listener();
}

/** Somebody writes in a talk: "talk types ID" the visitor, "talk types ID Name" a colleague. False for any other change. */
export function heardTyping(change: string): boolean {
  const [, talk, name = ''] = /^talk types (\S+) ?(.*)$/.exec(change) ?? [];
  if (!talk) return false;
  const key = `${talk} ${name ? 'member' : 'visitor'}`;
  put({ ...typing, [key]: { name, until: Date.now() + FOR_MS } });
  setTimeout(() => {
    const { [key]: over, ...rest } = typing;
    if (over && over.until <= Date.now()) put(rest);
  }, FOR_MS + 50);
  return true;
}

/** Who writes in a talk now: the visitor, and a colleague by first name. */
export function useTyping(talkId: string): { visitor: boolean; colleague: string } {
  const all = useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => typing,
  );
  return { visitor: `${talkId} visitor` in all, colleague: all[`${talkId} member`]?.name ?? '' };
}
