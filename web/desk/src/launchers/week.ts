import type { LauncherBrief } from './api';

type Span = LauncherBrief['hours']['week'][number];

/** A stretch on one day in minutes from midnight; one that runs past midnight ends beyond 1,440. */
export interface Stretch {
  from: number;
  until: number;
}

export const DAY_MINUTES = 1440;

/** Stretches are drawn and moved by so many minutes. */
export const STEP = 15;

const minutes = (time: string) => Number(time.slice(0, 2)) * 60 + Number(time.slice(3, 5));

/** "09:30:00" for 570; the next day's times begin at midnight again. */
export function timeOf(at: number): string {
  const within = ((at % DAY_MINUTES) + DAY_MINUTES) % DAY_MINUTES;
  return `${String(Math.floor(within / 60)).padStart(2, '0')}:${String(within % 60).padStart(2, '0')}:00`;
}

export function stretchOf({ from, until }: Pick<Span, 'from' | 'until'>): Stretch {
  const [start, end] = [minutes(from), minutes(until)];
  return { from: start, until: end > start ? end : end + DAY_MINUTES };
}

/** A stretch within its bounds: a quarter of an hour at least, a day at most, from its own day. */
export function fitted({ from, until }: Stretch): Stretch {
  const start = Math.min(Math.max(0, from), DAY_MINUTES - STEP);
  return { from: start, until: Math.min(Math.max(start + STEP, until), start + DAY_MINUTES) };
}

/** The week with one of its stretches changed; none of it where `to` is undefined. */
export function withStretch(week: readonly Span[], place: number, to: Stretch | undefined): Span[] {
  if (!to) return week.filter((_, i) => i !== place);
  const { from, until } = fitted(to);
  return week.map((span, i) => (i === place ? { ...span, from: timeOf(from), until: timeOf(until) } : span));
}

/** "9–12:30", "13:30–20". */
export function stretchWords(span: Pick<Span, 'from' | 'until'>): string {
  const short = (time: string) => {
    const [hour, minute] = [Number(time.slice(0, 2)), time.slice(3, 5)];
    return minute === '00' ? String(hour) : `${hour}:${minute}`;
  };
  return span.from === span.until ? 'all day' : `${short(span.from)}–${short(span.until)}`;
}

/** The hours that a week's grid shows: from before its first opening to after its last, whole hours. */
export function gridOf(week: readonly Span[]): Stretch {
  const all = week.map(stretchOf);
  const from = Math.min(8 * 60, ...all.map((s) => s.from));
  const until = Math.max(20 * 60, ...all.map((s) => s.until));
  return { from: Math.floor(from / 60) * 60, until: Math.min(2 * DAY_MINUTES, Math.ceil(until / 60) * 60) };
}
