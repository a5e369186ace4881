import type { Visitor } from './api';

/** Somebody the ladder is tried with. */
export interface Persona {
  key: string;
  name: string;
  /** Who that is, but for the device. */
  who: string;
  visitor: Visitor;
  /** Whether they come while the launcher is closed. */
  atNight?: boolean;
}

/** Those that are offered at once; anybody else is imagined fact by fact, or taken from the recorded visits. */
export const PERSONAS: readonly Persona[] = [
  { key: 'first', name: 'New', who: 'first visit', visitor: {} },
  {
    key: 'back',
    name: 'Back again',
    who: 'second visit',
    visitor: { visitNumber: 2, pagesBefore: 4, pagesEver: 9, hoursSinceLastVisit: 48 },
  },
  {
    key: 'buyer',
    name: 'Buyer',
    who: 'third visit, bought five days ago',
    visitor: {
      visitNumber: 3,
      pagesEver: 14,
      pastEvents: [{ kind: 'purchase', source: null, product: '', category: '', daysAgo: 5 }],
    },
  },
  { key: 'night', name: 'At night', who: 'first visit, at 23:00', visitor: {}, atNight: true },
];

/** Tonight at eleven on the site's clock, as the server reads it. */
export function tonight(zone: string, now: Date): string {
  const day = new Intl.DateTimeFormat('sv-SE', { timeZone: zone, dateStyle: 'short' }).format(now);
  return `${day}T23:00`;
}
