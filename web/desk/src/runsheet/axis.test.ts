import { describe, expect, it } from 'vitest';
import { placeOf, roomFor } from './axis';

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
});
