import type { Unsent } from './types';

/** What a browser keeps of its talk: the key that opens it, what it has shown, and what is still to be sent. */
export interface Kept {
  talk?: string;
  key?: string;
  /** Number of the last word that the visitor has seen. */
  seen: number;
  unsent: Unsent[];
}

const PREFIX = 'outcry-talk-';
const NOTHING: Kept = { seen: 0, unsent: [] };

/** The talk of a site in this browser. Each call reads anew: another tab may have gone on with it. */
export function keeper(site: string, store: () => Storage = () => localStorage) {
  const name = PREFIX + site;
  function read(): Kept {
    try {
      const kept = JSON.parse(store().getItem(name) ?? 'null') as Partial<Kept> | null;
      return { ...NOTHING, ...kept, unsent: Array.isArray(kept?.unsent) ? kept.unsent : [] };
    } catch {
      return memory;
    }
  }
  // Where the browser lets nothing be kept, the talk lasts as long as the page.
  let memory: Kept = NOTHING;
  function change(how: (kept: Kept) => Kept): Kept {
    memory = how(read());
    try {
      store().setItem(name, JSON.stringify(memory));
    } catch {
      // Kept in memory only.
    }
    return memory;
  }
  return {
    name,
    read,
    add: (unsent: Unsent) => change((k) => ({ ...k, unsent: [...k.unsent, unsent] })),
    sent: (id: string) => change((k) => ({ ...k, unsent: k.unsent.filter((u) => u.id !== id) })),
    see: (n: number) => change((k) => ({ ...k, seen: Math.max(k.seen, n) })),
    /** The talk has a key here; of another talk nothing has been seen yet. */
    open: (talk: string, key: string) => change((k) => ({ ...k, talk, key, seen: k.talk === talk ? k.seen : 0 })),
    /** The key opens nothing any more: what is to be sent begins another talk. */
    lose: () => change((k) => ({ seen: 0, unsent: k.unsent })),
  };
}

export type Keeper = ReturnType<typeof keeper>;
