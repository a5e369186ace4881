import { describe, expect, it } from 'vitest';
import { rowsOf, ticksOf } from './timeline';

describe('the rows of a timeline', () => {
  it('puts into one row what does not meet, and names count as bars', () => {
    const stretches = [
      { startMs: 0, endMs: 1_000 },
      { startMs: 5_000, endMs: 60_000 },
      { startMs: 30_000, endMs: 31_000 },
      { startMs: 70_000, endMs: 80_000 },
    ];
    expect(rowsOf(stretches, 100_000, 0.01)).toEqual([0, 0, 1, 0]);
    expect(rowsOf(stretches, 100_000, 0.2)).toEqual([0, 1, 0, 0]);
  });

  it('never puts two into one place', () => {
    const same = Array.from({ length: 4 }, () => ({ startMs: 0, endMs: 5 }));
    expect(new Set(rowsOf(same, 10, 0.5)).size).toBe(4);
  });

  it('marks a stay with few round seconds', () => {
    expect(ticksOf(60_000)).toEqual([0, 10_000, 20_000, 30_000, 40_000, 50_000, 60_000]);
    expect(ticksOf(8_000)).toEqual([0, 1_000, 2_000, 3_000, 4_000, 5_000, 6_000, 7_000, 8_000]);
    expect(ticksOf(1_800_000).length).toBeLessThan(12);
  });
});
