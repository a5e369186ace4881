const CLOCK = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' });
const CLOCK_SECONDS = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit', second: '2-digit' });
const DAY = new Intl.DateTimeFormat('en-GB', { weekday: 'short', day: 'numeric', month: 'short' });

/** "14:02" in the reader's own time zone. */
export const clock = (at: string) => CLOCK.format(new Date(at));

/** "14:02:09" in the reader's own time zone. */
export const clockSeconds = (at: string) => CLOCK_SECONDS.format(new Date(at));

/** "Tue 24 Nov" in the reader's own time zone. */
export const day = (at: string) => DAY.format(new Date(at)).replace(',', '');

/** "14 s ago", "3 min ago", "2 h ago", "4 days ago": short, for figures that move while one looks. */
export function ago(at: string, nowMs: number): string {
  const seconds = Math.max(0, Math.floor((nowMs - Date.parse(at)) / 1000));
  if (seconds < 60) return `${seconds} s ago`;
  if (seconds < 3600) return `${Math.floor(seconds / 60)} min ago`;
  if (seconds < 48 * 3600) return `${Math.floor(seconds / 3600)} h ago`;
  return `${Math.floor(seconds / 86_400)} days ago`;
}

/** Milliseconds on a page as "0:06" or "1:04". */
export function pageClock(ms: number): string {
  const seconds = Math.round(ms / 1000);
  return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`;
}
