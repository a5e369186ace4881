const DAY = new Intl.DateTimeFormat('en-GB', { weekday: 'short', day: 'numeric', month: 'short', timeZone: 'UTC' });

/** Now on a site's clock, as an address has it: "2026-11-24T14:00". */
export function localNow(timeZone: string, now = new Date()): string {
  const parts = new Intl.DateTimeFormat('sv-SE', { timeZone, dateStyle: 'short', timeStyle: 'short' }).format(now);
  return parts.replace(' ', 'T');
}

/** A local date and time as it reads in a sentence: "Tue 24 Nov, 14:00"; "now" for none. */
export function sayAt(at: string | undefined): string {
  if (!at) return 'now';
  const [date = '', time = ''] = at.split('T');
  const day = new Date(`${date}T00:00:00Z`);
  return Number.isNaN(day.getTime()) ? at : `${DAY.format(day).replace(',', '')}, ${time.slice(0, 5)}`;
}

/** The same date at another hour. */
export const atHour = (at: string, hour: number) => `${at.slice(0, 11)}${String(hour).padStart(2, '0')}:00`;

/** The hour of a local date and time. */
export const hourOf = (at: string) => Number(at.slice(11, 13));
