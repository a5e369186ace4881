import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { keepOpen, waitBefore } from './line';

class FakeLine {
  starts = 0;
  stops = 0;
  fails = false;
  closed: () => void = () => undefined;
  start() {
    this.starts++;
    return this.fails ? Promise.reject(new Error('away')) : Promise.resolve();
  }
  stop() {
    this.stops++;
    return Promise.resolve();
  }
  onclose(told: () => void) {
    this.closed = told;
  }
}

describe('a line to the server', () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  it('is opened again after any number of failed starts', async () => {
    const line = new FakeLine();
    line.fails = true;
    const opened = vi.fn();
    const stop = keepOpen(line, opened);
    await vi.advanceTimersByTimeAsync(10 * 60_000);
    expect(line.starts).toBeGreaterThan(15);
    expect(opened).not.toHaveBeenCalled();
    line.fails = false;
    await vi.advanceTimersByTimeAsync(30_000);
    expect(opened).toHaveBeenCalledExactlyOnceWith(true);
    stop();
  });

  it('that is closed from the other side is opened again, and says that it is not the first time', async () => {
    const line = new FakeLine();
    const opened = vi.fn();
    const stop = keepOpen(line, opened);
    await vi.advanceTimersByTimeAsync(0);
    line.closed();
    await vi.advanceTimersByTimeAsync(1_000);
    expect(opened.mock.calls).toEqual([[true], [false]]);
    stop();
  });

  it('stays closed once it is stopped', async () => {
    const line = new FakeLine();
    const stop = keepOpen(line, () => undefined);
    await vi.advanceTimersByTimeAsync(0);
    stop();
    line.closed();
    await vi.advanceTimersByTimeAsync(60_000);
    expect([line.starts, line.stops]).toEqual([1, 1]);
  });

  it('is waited for half a minute at most', () => {
    expect([0, 1, 2, 3, 4, 500].map(waitBefore)).toEqual([0, 1_000, 3_000, 10_000, 30_000, 30_000]);
  });
});
