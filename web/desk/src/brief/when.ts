import { plural } from '../kit/plural';
import type { Brief } from './types';

type When = Brief['when'];
export type Trigger = When['triggers'][number];
export type TriggerKind = Trigger['kind'];

interface TriggerShape {
  name: string;
  /** The number it takes: its unit, and from where to where. */
  number?: { after: string; min: number; max: number; start: number };
  /** What its target is; an element unless said otherwise. */
  target?: { label: string; optional?: boolean };
}

/** What may be waited for, in the order in which it is offered. */
export const TRIGGERS: Record<TriggerKind, TriggerShape> = {
  seconds: { name: 'after seconds on the page', number: { after: 'seconds on the page; 0 is on arrival', min: 0, max: 3600, start: 6 } },
  idle: { name: 'after seconds without doing anything', number: { after: 'seconds without doing anything', min: 1, max: 3600, start: 20 } },
  scroll: { name: 'after scrolling', number: { after: 'percent of the page', min: 1, max: 100, start: 50 } },
  inView: { name: 'when an element comes into view', target: { label: 'Element, as a selector' } },
  leaving: { name: 'when the visitor turns to leave' },
  click: { name: 'when an element is clicked', target: { label: 'Element, as a selector' } },
  videoEnd: { name: 'when a video ends', target: { label: 'Video, as a selector; empty for any', optional: true } },
  pageEvent: { name: 'when the page sends an event', target: { label: 'Name of the event' } },
  pages: { name: 'after pages in this visit', number: { after: 'pages looked at in this visit', min: 1, max: 100, start: 2 } },
};

/** A trigger with the values it begins with. */
export const startTrigger = (kind: TriggerKind): Trigger => ({ kind, number: TRIGGERS[kind].number?.start ?? 0, target: '' });

function oneTrigger({ kind, number, target }: Trigger): string {
  switch (kind) {
    case 'seconds':
      return number === 0 ? 'on arrival' : `${plural(number, 'second')} after arrival`;
    case 'idle':
      return `after ${plural(number, 'second')} without a move`;
    case 'scroll':
      return `at ${number} % of the page`;
    case 'inView':
      return `when ${target || 'an element'} comes into view`;
    case 'leaving':
      return 'on leaving';
    case 'click':
      return target.startsWith('[data-outcry-ask=') ? 'on a press of the button marked for it' : `on a click on ${target || 'an element'}`;
    case 'videoEnd':
      return target ? `when ${target} ends` : 'when a video ends';
    case 'pageEvent':
      return `on the event ${target || 'yet to be named'}`;
    case 'pages':
      return `from the ${number}${['th', 'st', 'nd', 'rd'][number % 100 > 10 && number % 100 < 14 ? 0 : number % 10] ?? 'th'} page of a visit`;
  }
}

/** What has to happen, as a clause. */
export function triggerWords({ triggers, join }: Pick<When, 'triggers' | 'join'>): string {
  if (triggers.length === 0) return 'on arrival';
  return triggers.map(oneTrigger).join(join === 'all' ? ' and ' : ' or ');
}

/** The turns and rounds, as a clause. */
export function turnWords({ turns, turnGapSeconds, rounds }: When): string {
  const one = turns === 1 ? 'one turn' : `${turns} turns ${turnGapSeconds} s apart`;
  if (rounds === 1) return one;
  return rounds === 0 ? `${one}, again and again until closed or clicked` : `${one}, ${rounds} rounds`;
}

const DAYS = { monday: 'Mon', tuesday: 'Tue', wednesday: 'Wed', thursday: 'Thu', friday: 'Fri', saturday: 'Sat', sunday: 'Sun' };

/** The days of the week as the API spells them, Monday first. */
export const WEEKDAYS = Object.keys(DAYS) as (keyof typeof DAYS)[];

/** A weekday in short. */
export const dayName = (day: string) => DAYS[day as keyof typeof DAYS] ?? day;

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

// On the site's own clock, so no time zone may move it.
const date = (local: string) => `${Number(local.slice(8, 10))} ${MONTHS[Number(local.slice(5, 7)) - 1]} ${local.slice(11, 16)}`;

/** The dates and hours, as a clause. */
export function scheduleWords({ from, until, hours, eventStarts, eventEnds, untilEvent }: When['schedule']): string {
  const parts: string[] = [];
  if (from) parts.push(`from ${date(from)}`);
  if (until) parts.push(`until ${date(until)}`);
  const event = untilEvent === 'ends' ? (eventEnds ?? eventStarts) : eventStarts;
  if (event) parts.push(`until the event ${untilEvent} on ${date(event)}`);
  if (hours.length > 0) parts.push(hours.map((h) => `${dayName(h.day)} ${h.from.slice(0, 5)}–${h.until.slice(0, 5)}`).join(', '));
  return parts.length === 0 ? 'at any time' : parts.join(', ');
}
