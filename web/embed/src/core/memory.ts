import { toJson } from './bare';
import type { LogEntry } from './types';

/** What the browser keeps for its visitor between page views. */
export interface Memory {
  passport: string | undefined;
  memberToken: string | undefined;
  /** Whether the page said that the visitor agreed to storing. */
  agreed: boolean;
  log: LogEntry[];
  /** Whether a sent form of some tab may wait for its sign of success. */
  waits: boolean;
}

/** An entry that the server has taken is kept this long: another tab's passport may not have it yet. */
const KEPT_MS = 1_800_000;

const word = (value: unknown) => (typeof value === 'string' && value ? value : undefined);

/** Reads what was stored, whatever it is: nonsense heals to nothing. */
function heal(stored: string | null): Memory {
  const { passport, memberToken, agreed, log, waits } = JSON.parse(stored ?? '{}') ?? {};
  return {
    passport: word(passport),
    memberToken: word(memberToken),
    agreed: agreed === true,
    log: Array.isArray(log) ? log.filter((e) => e?.callout && e.at > 0) : [],
    waits: waits === true,
  };
}

export type MemoryBox = ReturnType<typeof openMemory>;

/**
 * Opens the memory of a site key in the page's own storage; that of a stage or a trial visit is of its tab alone.
 *
 * Other tabs write into it too, so it is read anew each time, and what happened is only ever added to it. Until
 * {@link allow} is told that storing is allowed, and where storage is refused (private modes, sandboxed frames), it lasts
 * for the page view only; nothing is thrown. What an earlier permission left there counts as permission.
 */
export function openMemory(siteKey: string, ofTab: boolean) {
  const name = `outcry.${siteKey}`;
  const store = () => (ofTab ? sessionStorage : localStorage);
  let kept = heal(null);
  let mayStore = false;
  try {
    mayStore = store().getItem(name) !== null;
  } catch {
    // Refused.
  }

  function read(): Memory {
    try {
      if (mayStore) kept = heal(store().getItem(name));
    } catch {
      // Refused or unreadable: what this page knows.
    }
    return kept;
  }

  function save() {
    try {
      if (mayStore) store().setItem(name, toJson(kept));
    } catch {
      // Full or refused: it lasts for this page view.
    }
  }

  function write(change: Partial<Memory>) {
    kept = { ...read(), ...change };
    save();
  }

  return {
    name,
    read,
    write,
    note(entry: LogEntry) {
      const recent = ({ at, ok }: LogEntry) => !ok || at > Date.now() - KEPT_MS;
      write({ log: [...read().log, entry].filter(recent).slice(-50) });
    },
    /** Begins to store, or stops and leaves nothing behind. */
    allow(allowed: boolean) {
      mayStore = allowed;
      if (allowed) save();
      else
        try {
          store().removeItem(name);
          // A tab's own store takes as long to open as all the rest.
          if (kept.waits) sessionStorage.removeItem(PENDING);
        } catch {
          // Refused, so there is nothing to remove.
        }
    },
    mayStore: () => mayStore,
  };
}

/** Where sent forms wait for their sign of success. */
export const PENDING = 'outcry.sent';

const STAGE = 'outcry.stage';

/**
 * Keeps the token of a stage or a trial visit for this tab, so that it survives a click to another page of the site.
 * A mark in the browser's store says that some tab has one: to open a tab's own store takes as long as all the rest.
 */
export const stageToken = {
  read(): string | undefined {
    try {
      return ((window !== parent || localStorage.getItem(STAGE)) && sessionStorage.getItem(STAGE)) || undefined;
    } catch {
      return undefined;
    }
  },
  write(token: string) {
    try {
      sessionStorage.setItem(STAGE, token);
      localStorage.setItem(STAGE, '1');
    } catch {
      // Refused: the stage then shows this one page only.
    }
  },
};
