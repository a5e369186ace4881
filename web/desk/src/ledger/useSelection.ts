import { useState } from 'react';
import type { LedgerFilter } from './api';

/** Events chosen in the list: one by one, or all that pass the filter. */
export interface Selection {
  ids: ReadonlySet<string>;
  /** All that pass the filter, beyond what is on screen. */
  isAll: boolean;
  toggle(id: string): void;
  chooseShown(ids: readonly string[]): void;
  chooseAll(): void;
  clear(): void;
}

/** Keeps what is chosen; another filter begins anew. */
export function useSelection(filter: LedgerFilter): Selection {
  const key = JSON.stringify(filter);
  const [kept, setKept] = useState<{ key: string; ids: ReadonlySet<string>; isAll: boolean }>({ key, ids: new Set(), isAll: false });
  const { ids, isAll } = kept.key === key ? kept : { ids: new Set<string>(), isAll: false };
  return {
    ids,
    isAll,
    toggle(id) {
      const next = new Set(ids);
      if (!next.delete(id)) next.add(id);
      setKept({ key, ids: next, isAll: false });
    },
    chooseShown: (shown) => setKept({ key, ids: new Set(shown), isAll: false }),
    chooseAll: () => setKept({ key, ids, isAll: true }),
    clear: () => setKept({ key, ids: new Set(), isAll: false }),
  };
}
