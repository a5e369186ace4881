import { describe, expect, it } from 'vitest';
import file from '../../../tests/conformance/queue.json';
import { type Change, createQueue } from '../src/model/queue';
import type { Cue, Rules, Visit } from '../src/model/types';

interface Scenario {
  name: string;
  rules?: Rules;
  visit?: Visit;
  cues: { id: string; priority?: number; dueMs: number; staysMs: number[] }[];
  acts?: { atMs: number; kind: 'close' | 'click' | 'hover' | 'leave'; callout: string }[];
  expected: string[];
}

// The very same file is played by the rehearsal in C#: both must come to the same timeline.
const scenarios = file as Scenario[];

const RULES: Rules = { atOnce: 1, gapMs: 10_000, mostPerVisit: 6, patienceMs: 20_000 };
const PAGE_MS = 120_000;

function cueOf({ id, priority = 5, dueMs, staysMs }: Scenario['cues'][number]): Cue {
  const turns = staysMs.map((stayMs) => ({ spans: [], meta: '', initials: '', stayMs }));
  const look = { side: 'Left' as const, band: '', ground: '', ink: '', closeMark: true, newTab: false, framed: false };
  return { id, priority, dueMs, turnGapMs: 12_000, hushMs: 86_400_000, turns, ...look };
}

function play({ rules = RULES, visit = { starts: 0, hushLeftMs: 0 }, cues, acts = [] }: Scenario): string[] {
  const queue = createQueue(cues.map(cueOf), rules, visit);
  const seen: string[] = [];
  const note = (changes: Change[], now: number) => {
    for (const change of changes) seen.push(`${change.do} ${change.cue.id}${change.turn + 1} ${now}`);
  };
  const left = [...acts];
  for (let now = 0; now < PAGE_MS; ) {
    for (let act = left[0]; act && act.atMs <= now; act = left[0]) {
      left.shift();
      if (act.kind === 'hover') queue.hold(act.callout, now);
      else if (act.kind === 'leave') queue.release(act.callout, now);
      else note(queue.end(act.callout, act.kind === 'close' ? 'closed' : 'clicked', now), now);
    }
    note(queue.step(now), now);
    now = Math.max(now + 1, Math.min(queue.nextMs(now) ?? PAGE_MS, left[0]?.atMs ?? PAGE_MS));
  }
  return seen;
}

describe('the snippet’s queue and the rehearsal agree', () => {
  for (const scenario of scenarios) it(scenario.name, () => expect(play(scenario)).toEqual(scenario.expected));
});
