/** A stretch that wants a place in rows. */
export interface Stretch {
  startMs: number;
  endMs: number;
}

/**
 * Puts stretches into rows so that neither bars nor the names beside them meet.
 *
 * @param stretches - By start.
 * @param totalMs - What the whole width stands for.
 * @param nameShare - How much of the width a name takes at least, 0 to 1.
 * @returns The row of each, from 0.
 */
export function rowsOf(stretches: readonly Stretch[], totalMs: number, nameShare: number): number[] {
  const free: number[] = [];
  return stretches.map(({ startMs, endMs }) => {
    const until = Math.max(endMs, startMs + nameShare * totalMs);
    const row = free.findIndex((at) => at <= startMs);
    const place = row < 0 ? free.length : row;
    free[place] = until;
    return place;
  });
}

/** Ticks for a stay: about eight of a round number of seconds. */
export function ticksOf(totalMs: number): number[] {
  const steps = [1, 2, 5, 10, 15, 30, 60, 120, 300, 600];
  const step = (steps.find((s) => totalMs / 1000 / s <= 9) ?? 600) * 1000;
  return Array.from({ length: Math.floor(totalMs / step) + 1 }, (_, i) => i * step);
}
