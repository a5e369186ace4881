import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { staleness } from './stale';

describe('what a change makes stale', () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  it('of a burst of events the run sheet is asked for twice, not a hundred times, and the last one counts', () => {
    const asked: string[] = [];
    const stale = staleness((key) => asked.push(key));
    for (let i = 0; i < 100; i++) {
      stale.changed('event');
      vi.advanceTimersByTime(100);
    }
    vi.advanceTimersByTime(60_000);
    expect(asked.filter((k) => k === 'run-sheet')).toHaveLength(2);
    expect(asked.filter((k) => k === 'events').length).toBeLessThanOrEqual(7);
    stale.stop();
  });

  it('a changed definition is asked for at once, even while an event waits', () => {
    const asked: string[] = [];
    const stale = staleness((key) => asked.push(key));
    stale.changed('event');
    stale.changed('event');
    asked.length = 0;
    stale.changed('definition');
    expect(asked).toContain('run-sheet');
    vi.advanceTimersByTime(60_000);
    expect(asked.filter((k) => k === 'run-sheet')).toHaveLength(1);
    stale.stop();
  });

  it('what nobody knows makes nothing stale', () => {
    const asked: string[] = [];
    staleness((key) => asked.push(key)).changed('weather');
    expect(asked).toEqual([]);
  });

  it('what waits is given up with the line', () => {
    const asked: string[] = [];
    const stale = staleness((key) => asked.push(key));
    stale.changed('event');
    stale.changed('event');
    asked.length = 0;
    stale.stop();
    vi.advanceTimersByTime(60_000);
    expect(asked).toEqual([]);
  });
});
