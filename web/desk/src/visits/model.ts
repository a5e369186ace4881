import type { Schema } from '../data/api';

export type Visitor = Schema<'ImaginedVisitor'>;
export type PlannedPage = Schema<'PlannedPage'>;

/** An imagined visit, as it stands in the address. */
export interface Journey {
  visitor: Visitor;
  pages: PlannedPage[];
  /** Local date and time at which it begins; none for now. */
  at?: string | undefined;
  /** A callout whose draft is on air. */
  draft?: string | undefined;
}

/** Seconds on a page that is added. */
export const USUAL_STAY_SECONDS = 60;

/** A page as it is added to a journey. */
export const plannedPage = (path: string, staySeconds = USUAL_STAY_SECONDS): PlannedPage => ({
  path,
  staySeconds,
  scrollPercent: 60,
  leaves: false,
  acts: [],
});

/** What a visitor has that a newcomer has not, so that addresses stay short. */
export function trimmed(visitor: Visitor): Visitor {
  const usual: Visitor = { visitNumber: 1, hoursSinceLastVisit: 24, device: 'desktop', agreed: true };
  return Object.fromEntries(
    Object.entries(visitor).filter(([key, value]) => {
      if (value === null || value === undefined || value === '') return false;
      if (Array.isArray(value)) return value.length > 0;
      if (typeof value === 'object') return Object.keys(value).length > 0;
      if (key in usual) return value !== usual[key as keyof Visitor];
      return value !== 0 && value !== false;
    }),
  );
}

/** Whether two visitors are the same to a planner. */
export const sameVisitor = (one: Visitor, other: Visitor) => JSON.stringify(sorted(one)) === JSON.stringify(sorted(other));

const sorted = (visitor: Visitor) => Object.entries(trimmed(visitor)).sort(([a], [b]) => (a < b ? -1 : 1));
