/** Counts the time during which the tab is visible; stands still while it is hidden. */
export interface VisibleClock {
  /** Visible milliseconds since the clock was made. */
  nowMs(): number;
  /** Whether it stands still. */
  isStill(): boolean;
  /** Tells it that the tab was hidden or shown. */
  setVisible(visible: boolean): void;
}

/** Makes a clock that starts at 0. `wallMs` must never run backwards, like `performance.now`. */
export function createVisibleClock(wallMs: () => number, visible: boolean): VisibleClock {
  let countedMs = 0;
  let since: number | undefined = visible ? wallMs() : undefined;
  return {
    nowMs: () => countedMs + (since === undefined ? 0 : wallMs() - since),
    isStill: () => since === undefined,
    setVisible(nowVisible) {
      if (nowVisible === (since !== undefined)) return;
      if (since !== undefined) countedMs += wallMs() - since;
      since = nowVisible ? wallMs() : undefined;
    },
  };
}
