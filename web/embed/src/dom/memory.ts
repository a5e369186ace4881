import type { Pending } from '../model/pending';
import type { LogEntry } from '../model/types';
import type { PendingStore } from './forms';

/** What the browser keeps for its visitor between page views. */
export interface Memory {
  passport: string | undefined;
  memberToken: string | undefined;
  /** Whether the page said that the visitor agreed to storing. */
  agreed: boolean;
  log: LogEntry[];
}

const EMPTY: Memory = { passport: undefined, memberToken: undefined, agreed: false, log: [] };

/**
 * Opens the memory of a site key in the page's own storage; that of a stage or a trial visit is of its tab alone.
 *
 * Until {@link allow} is told that storing is allowed, and where storage is refused (private modes, sandboxed frames),
 * it lasts for the page view only; nothing is thrown. What an earlier permission left there counts as permission.
 */
export function openMemory(siteKey: string, ofTab: boolean) {
  const name = `outcry.${siteKey}`;
  const store = () => (ofTab ? sessionStorage : localStorage);
  let kept: Memory = { ...EMPTY };
  let mayStore = false;
  try {
    const before = store().getItem(name);
    mayStore = before !== null;
    kept = { ...EMPTY, ...JSON.parse(before ?? '{}') };
  } catch {
    // Refused or unreadable: begin with nothing.
  }

  function save() {
    try {
      if (mayStore) store().setItem(name, JSON.stringify(kept));
    } catch {
      // Full or refused: it lasts for this page view.
    }
  }

  return {
    read: (): Memory => kept,
    write(change: Partial<Memory>) {
      kept = { ...kept, ...change };
      save();
    },
    /** Begins to store, or stops and leaves nothing behind. */
    allow(allowed: boolean) {
      mayStore = allowed;
      if (allowed) save();
      else
        try {
          store().removeItem(name);
          sessionStorage.removeItem(PENDING);
        } catch {
          // Refused, so there is nothing to remove.
        }
    },
    mayStore: () => mayStore,
  };
}

const PENDING = 'outcry.sent';

/** Keeps sent forms for their sign of success: in the tab where storing is allowed, else for as long as the page is there. */
export function openPending(mayStore: () => boolean): PendingStore {
  let here: Pending[] = [];
  return {
    read() {
      try {
        if (mayStore()) return JSON.parse(sessionStorage.getItem(PENDING) ?? '[]');
      } catch {
        // Refused or unreadable: what the page itself knows.
      }
      return here;
    },
    write(pending) {
      here = pending;
      try {
        if (pending.length === 0) sessionStorage.removeItem(PENDING);
        else if (mayStore()) sessionStorage.setItem(PENDING, JSON.stringify(pending));
      } catch {
        // As above.
      }
    },
  };
}

/** Keeps the token of a stage or a trial visit for this tab, so that it survives a click to another page of the site. */
export const stageToken = {
  read(): string | undefined {
    try {
      return sessionStorage.getItem('outcry.stage') ?? undefined;
    } catch {
      return undefined;
    }
  },
  write(token: string) {
    try {
      sessionStorage.setItem('outcry.stage', token);
    } catch {
      // Refused: the stage then shows this one page only.
    }
  },
};
