const DAY_MS = 86_400_000;

/** At midnight of the reader's own day, however long that day is. */
const dayOf = (ms: number) => {
  const at = new Date(ms);
  return Date.UTC(at.getFullYear(), at.getMonth(), at.getDate()) / DAY_MS;
};

/**
 * Says a moment to come in the reader's own zone and words: "today, 14:00", "tomorrow, 9:00", "Tuesday, 13:30" up to six
 * days ahead, then a date.
 *
 * @param atMs - When, in Unix milliseconds.
 * @param nowMs - Now.
 * @param languages - BCP 47 tags, the most wanted first.
 */
export function sayWhen(atMs: number, nowMs: number, languages: readonly string[]): string {
  const days = dayOf(atMs) - dayOf(nowMs);
  const at = new Date(atMs);
  const day =
    days < 2
      ? new Intl.RelativeTimeFormat(languages, { numeric: 'auto' }).format(days, 'day')
      : new Intl.DateTimeFormat(languages, days < 7 ? { weekday: 'long' } : { day: 'numeric', month: 'long' }).format(at);
  return `${day}, ${sayTime(atMs, languages)}`;
}

/** The time of day, as the reader writes it. */
export const sayTime = (atMs: number, languages: readonly string[]) =>
  new Intl.DateTimeFormat(languages, { hour: 'numeric', minute: '2-digit' }).format(atMs);

/** Whether two moments lie on the same day of the reader's. */
export const isSameDay = (one: number, other: number) => dayOf(one) === dayOf(other);
