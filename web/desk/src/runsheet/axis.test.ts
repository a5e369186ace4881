import { describe, expect, it } from 'vitest';
import { msAt, placeOf, roomFor, widestGap } from './axis';

describe('the axis', () => {
  it('gives half to the first thirty seconds, a quarter to the next, the rest to the last minute', () => {
    expect([0, 15_000, 30_000, 45_000, 60_000, 90_000, 120_000].map(placeOf)).toEqual([0, 25, 50, 62.5, 75, 87.5, 100]);
  });

  it('keeps what lies beyond at the end', () => {
    expect(placeOf(500_000)).toBe(100);
    expect(placeOf(-5)).toBe(0);
  });

  it('lets a name be as wide as the way to the next cue', () => {
    const [first, second] = [{ startMs: 0 }, { startMs: 15_000 }];
    expect(roomFor(first, [first, second])).toBe(25);
    expect(roomFor(second, [first, second])).toBe(75);
  });

  it('knows the instant at a place, the other way round', () => {
    for (const ms of [0, 6_000, 29_000, 44_000, 61_000, 118_000]) expect(Math.round(msAt(placeOf(ms)))).toBe(ms);
    expect(msAt(-5)).toBe(0);
    expect(msAt(300)).toBe(120_000);
  });

  it('writes where nothing else stands', () => {
    expect(widestGap([{ from: 10, to: 30 }])).toEqual({ from: 30, to: 100, isBefore: false });
    expect(widestGap([{ from: 70, to: 95 }])).toEqual({ from: 0, to: 70, isBefore: true });
    expect(
      widestGap([
        { from: 60, to: 100 },
        { from: 0, to: 20 },
      ]),
    ).toEqual({ from: 20, to: 60, isBefore: true });
  });
});
