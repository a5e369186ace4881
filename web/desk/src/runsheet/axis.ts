/** Where the axis bends: the first 30 s take half, the next 30 a quarter, the last minute the rest. */
const BENDS = [
  [0, 0],
  [30_000, 50],
  [60_000, 75],
  [120_000, 100],
] as const;

/** The last instant on the axis. */
export const AXIS_END_MS = 120_000;

/** An instant's place on the axis, in percent of its width; what lies beyond the end stands at the end. */
export function placeOf(ms: number): number {
  const at = Math.min(Math.max(ms, 0), AXIS_END_MS);
  for (let i = 1; i < BENDS.length; i++) {
    const [fromMs, from] = BENDS[i - 1] ?? [0, 0];
    const [toMs, to] = BENDS[i] ?? [AXIS_END_MS, 100];
    if (at <= toMs) return from + ((at - fromMs) / (toMs - fromMs)) * (to - from);
  }
  return 100;
}

/** Ticks that carry a time, and those that only mark five seconds. */
export const TICKS = {
  named: [0, 5, 10, 15, 20, 25, 30, 40, 50, 60, 90, 120].map((s) => s * 1000),
  small: [35, 45, 55, 65, 70, 75, 80, 85, 95, 100, 105, 110, 115].map((s) => s * 1000),
};

/** Something with a beginning on the axis. */
interface Placed {
  startMs: number;
}

/** How wide a name beside a cue may be, in percent: up to the next cue, or to the end. */
export function roomFor<T extends Placed>(cue: T, others: readonly T[]): number {
  const next = Math.min(100, ...others.filter((o) => o.startMs > cue.startMs).map((o) => placeOf(o.startMs)));
  return next - placeOf(cue.startMs);
}

/** The instant at a place on the axis, in milliseconds: the other way round of {@link placeOf}. */
export function msAt(percent: number): number {
  const at = Math.min(Math.max(percent, 0), 100);
  for (let i = 1; i < BENDS.length; i++) {
    const [fromMs, from] = BENDS[i - 1] ?? [0, 0];
    const [toMs, to] = BENDS[i] ?? [AXIS_END_MS, 100];
    if (at <= to) return fromMs + ((at - from) / (to - from)) * (toMs - fromMs);
  }
  return AXIS_END_MS;
}

/** The widest stretch of a lane that none of the given ones takes, in percent, and whether what is written there belongs before what follows. */
export function widestGap(taken: readonly { from: number; to: number }[]): { from: number; to: number; isBefore: boolean } {
  let [at, best] = [0, { from: 0, to: 0, isBefore: true }];
  for (const { from, to } of [...taken].sort((a, b) => a.from - b.from)) {
    if (from - at > best.to - best.from) best = { from: at, to: from, isBefore: true };
    at = Math.max(at, to);
  }
  return 100 - at >= best.to - best.from ? { from: at, to: 100, isBefore: false } : best;
}
