import { describe, expect, it } from 'vitest';
import { fitted, gridOf, stretchOf, stretchWords, timeOf, withStretch } from './week';

const span = (from: string, until: string) => ({ day: 'tuesday' as const, from, until });

describe('a week of hours', () => {
  it('reads stretches past midnight as going on', () => {
    expect(stretchOf(span('22:00:00', '02:00:00'))).toEqual({ from: 1320, until: 1560 });
    expect(stretchOf(span('09:00:00', '09:00:00'))).toEqual({ from: 540, until: 1980 });
    expect(timeOf(1560)).toBe('02:00:00');
  });
  it('keeps a stretch within its day and never empty', () => {
    expect(fitted({ from: -30, until: -30 })).toEqual({ from: 0, until: 15 });
    expect(fitted({ from: 1500, until: 1600 })).toEqual({ from: 1425, until: 1600 });
    expect(fitted({ from: 0, until: 4000 })).toEqual({ from: 0, until: 1440 });
  });
  it('changes one of them and leaves the others alone', () => {
    const week = [span('09:00:00', '12:00:00'), span('13:00:00', '17:00:00')];
    expect(withStretch(week, 1, { from: 810, until: 1050 })[1]).toEqual(span('13:30:00', '17:30:00'));
    expect(withStretch(week, 0, undefined)).toEqual([week[1]]);
  });
  it('says them shortly', () => {
    expect(stretchWords(span('09:00:00', '12:30:00'))).toBe('9–12:30');
    expect(stretchWords(span('08:00:00', '08:00:00'))).toBe('all day');
  });
  it('shows the hours that are used', () => {
    expect(gridOf([])).toEqual({ from: 480, until: 1200 });
    expect(gridOf([span('06:30:00', '23:00:00')])).toEqual({ from: 360, until: 1380 });
  });
});
