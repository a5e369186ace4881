import { describe, expect, it } from 'vitest';
import { createQueue } from '../src/model/queue';
import type { Cue, Rules } from '../src/model/types';

const RULES: Rules = { atOnce: 1, gapMs: 10_000, mostPerVisit: 6, patienceMs: 20_000 };
const FRESH = { starts: 0, hushLeftMs: 0 };

function cue(id: string, dueS: number, staysS: number[], extra: Partial<Cue> = {}): Cue {
  return {
    id,
    priority: 5,
    dueMs: dueS * 1000,
    turnGapMs: 12_000,
    hushMs: 86_400_000,
    side: 'Left',
    band: '#000000',
    ground: '#FFFFFF',
    ink: '#000000',
    closeMark: true,
    newTab: false,
    framed: true,
    turns: staysS.map((s) => ({ spans: [], meta: '', initials: '', stayMs: s * 1000 })),
    ...extra,
  };
}

/** Runs the queue to `untilS` on its own clock and writes down what happened, in seconds. */
function play(cues: Cue[], untilS: number, visit: Parameters<typeof createQueue>[2] = FRESH, rules = RULES) {
  const queue = createQueue(cues, rules, visit);
  const seen: string[] = [];
  for (let now: number | undefined = 0; now !== undefined && now <= untilS * 1000; ) {
    for (const change of queue.step(now)) seen.push(`${change.do} ${change.cue.id}${change.turn + 1} ${now / 1000}`);
    const next = queue.nextMs(now);
    now = next === undefined ? undefined : Math.max(next, now + 1);
  }
  return seen;
}

describe('the queue', () => {
  it('tells turns one after another and lets another callout in between', () => {
    const m = cue('M', 6, [7, 7, 7]);
    const t = cue('T', 20, [7], { priority: 3 });
    expect(play([t, m], 120)).toEqual([
      'start M1 6',
      'end M1 13',
      'start T1 23',
      'end T1 30',
      'start M2 40',
      'end M2 47',
      'start M3 59',
      'end M3 66',
    ]);
  });

  it('keeps the gap across pages', () => {
    expect(play([cue('A', 0, [7])], 60, { starts: 1, sinceLastEndMs: 4_000, hushLeftMs: 0 })).toEqual(['start A1 6', 'end A1 13']);
  });

  it('starts nothing once the visit has had its fill', () => {
    expect(play([cue('A', 5, [7])], 60, { starts: 6, hushLeftMs: 0 })).toEqual([]);
  });

  it('starts nothing during a hush', () => {
    expect(play([cue('A', 5, [7])], 60, { starts: 0, hushLeftMs: 3_600_000 })).toEqual([]);
  });

  it('lets a callout give up when its patience ends before its place is free', () => {
    const long = cue('L', 5, [60]);
    expect(play([long, cue('S', 6, [7], { priority: 6 })], 120)).toEqual(['start L1 5', 'end L1 65']);
  });

  it('lets the more urgent of two go first', () => {
    expect(play([cue('B', 5, [7]), cue('A', 5, [7], { priority: 1 })], 60)[0]).toBe('start A1 5');
  });

  it('hushes everything after a close', () => {
    const queue = createQueue([cue('A', 5, [7]), cue('B', 20, [7])], RULES, FRESH);
    queue.step(5_000);
    expect(queue.end('A', 'closed', 6_000).map((c) => c.do)).toEqual(['end']);
    expect(queue.step(20_000)).toEqual([]);
  });

  it('does not hush after a click', () => {
    const queue = createQueue([cue('A', 5, [7]), cue('B', 20, [7])], RULES, FRESH);
    queue.step(5_000);
    queue.end('A', 'clicked', 6_000);
    expect(queue.step(20_000).map((c) => c.do)).toEqual(['start']);
  });

  it('lets a stay stand still while the pointer rests on it', () => {
    const queue = createQueue([cue('A', 0, [7])], RULES, FRESH);
    queue.step(0);
    queue.hold('A', 2_000);
    expect(queue.step(30_000)).toEqual([]);
    queue.release('A', 30_000);
    expect(queue.nextMs(30_000)).toBe(35_000);
  });
});
