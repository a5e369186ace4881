import { PENDING } from '../core/memory';
import type { PendingStore } from './forms';
import type { Pending } from './pending';

/** Keeps sent forms for their sign of success: in the tab where storing is allowed, else for as long as the page is there. */
export function openPending(mayStore: () => boolean): PendingStore {
  let here: Pending[] = [];
  return {
    read() {
      try {
        const kept = mayStore() ? JSON.parse(sessionStorage.getItem(PENDING) ?? '[]') : undefined;
        if (Array.isArray(kept)) return kept.filter((p) => p?.source && p.fields);
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
