// @vitest-environment happy-dom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { watchIdle } from './idle';

describe('whoever does not move', () => {
  beforeEach(() => {
    vi.useFakeTimers();
  });
  afterEach(() => {
    vi.useRealTimers();
  });

  it('is away after the time agreed on, and back with the first movement', () => {
    const told: boolean[] = [];
    const watch = watchIdle(600_000, (idle) => told.push(idle));
    vi.advanceTimersByTime(599_000);
    expect(told).toEqual([]);
    dispatchEvent(new Event('keydown'));
    vi.advanceTimersByTime(599_000);
    expect(told).toEqual([]);
    vi.advanceTimersByTime(1_000);
    expect(told).toEqual([true]);
    expect(watch.isIdle()).toBe(true);
    dispatchEvent(new Event('pointermove'));
    expect(told).toEqual([true, false]);
    watch.stop();
    vi.advanceTimersByTime(3_600_000);
    expect(told).toEqual([true, false]);
  });
});
