/** How the snippet stands with the site. */
export type Hearing = 'waiting' | 'heard' | 'stale';

/** Without a word for this long, something may have taken the line off the site again. */
export const STALE_AFTER_MS = 24 * 3600_000;

/** Reads the state from when the snippet was last heard. */
export function hearingOf(heardAt: string | null, nowMs: number): Hearing {
  if (!heardAt) return 'waiting';
  return nowMs - Date.parse(heardAt) > STALE_AFTER_MS ? 'stale' : 'heard';
}
