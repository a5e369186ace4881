import type { LogEntry } from '../model/types';

/** What the browser keeps for its visitor between page views. */
export interface Memory {
  passport: string | undefined;
  memberToken: string | undefined;
  log: LogEntry[];
}

const EMPTY: Memory = { passport: undefined, memberToken: undefined, log: [] };

/**
 * Opens the memory of a site key in the page's own storage.
 *
 * Where storage is refused (private modes, sandboxed frames) it lasts for the page view only; nothing is thrown.
 */
export function openMemory(siteKey: string, isForgetful: boolean) {
  const name = `outcry.${siteKey}`;
  let kept: Memory = { ...EMPTY };
  if (!isForgetful)
    try {
      kept = { ...EMPTY, ...JSON.parse(localStorage.getItem(name) ?? '{}') };
    } catch {
      // Refused or unreadable: begin with nothing.
    }
  return {
    read: (): Memory => kept,
    write(change: Partial<Memory>) {
      kept = { ...kept, ...change };
      if (isForgetful) return;
      try {
        localStorage.setItem(name, JSON.stringify(kept));
      } catch {
        // Full or refused: it lasts for this page view.
      }
    },
  };
}

/** Keeps the stage's token for this tab, so that the stage survives a click to another page of the site. */
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
