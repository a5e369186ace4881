import { describe, expect, it } from 'vitest';
import type { ReplayFigures } from './api';
import { counted, often, share, verdict } from './model';

const figures = (part: Partial<ReplayFigures>) =>
  ({ visitors: 1204, visitorsReached: 412, visitsReached: 460, medianFirstSecond: 8, ...part }) as ReplayFigures;

describe('a replay in words', () => {
  it('says whom it would have reached, and when', () => {
    expect(verdict(figures({}))).toBe(
      '412 visitors of 1,204 (34 %) would have met it in 460 visits, half of them within 8 seconds on the page.',
    );
  });
  it('says that nobody came, or that nobody would have met it', () => {
    expect(verdict(figures({ visitors: 0 }))).toBe('No visits were recorded in this period.');
    expect(verdict(figures({ visitorsReached: 0 }))).toBe('None of 1,204 visitors would have met it.');
  });
  it('speaks of one as of one', () => {
    expect(counted(1, 'visit')).toBe('1 visit');
    expect(verdict(figures({ visitorsReached: 1, visitsReached: 1, medianFirstSecond: 1 }))).toContain('1 visitor of 1,204 (under 1 %)');
  });
  it('never rounds some to none or most to all', () => {
    expect([share(1, 1000), share(999, 1000), share(0, 10), share(10, 10), share(0, 0)]).toEqual([
      'under 1 %',
      'over 99 %',
      '0 %',
      '100 %',
      '0 %',
    ]);
  });
  it('gathers those who would have met it often', () => {
    expect(often([700, 30, 20, 10, 4, 1, 0, 2]).map((o) => o.visitors)).toEqual([30, 20, 10, 7]);
  });
});
