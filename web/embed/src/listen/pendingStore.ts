import { type MemoryBox, PENDING } from '../core/memory';
import type { PendingStore } from './forms';
import type { Pending } from './pending';

/**
 * Keeps sent forms for their sign of success: in the tab where storing is allowed, else for as long as the page is there.
 * The browser's memory knows whether any may wait: the tab's own store is not opened without need.
 */
export function openPending(memory: MemoryBox): PendingStore {
  let here: Pending[] = [];
  return {
    read() {
      try {
        const kept = memory.mayStore() && memory.read().waits && JSON.parse(sessionStorage.getItem(PENDING) ?? '[]');
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
        else if (memory.mayStore()) {
          sessionStorage.setItem(PENDING, JSON.stringify(pending));
          memory.write({ waits: true });
        }
      } catch {
        // As above.
      }
    },
  };
}
