import { describe, expect, it } from 'vitest';
import { createQueue, type Queue } from '../src/core/queue';
import type { Act } from '../src/core/triggers';
import type { Cue, Rules, Trigger, Visit } from '../src/core/types';

const RULES: Rules = { atOnce: 1, gapMs: 10_000, mostPerVisit: 6, patienceMs: 20_000 };
const FRESH: Visit = { starts: 0, hushLeftMs: 0, dialogHushLeftMs: 0 };

function cue(id: string, due: number | Trigger[], staysS: (number | undefined)[], extra: Partial<Cue> = {}): Cue {
  return {
    id,
    shape: 'Slip',
    priority: 5,
    triggers: typeof due === 'number' ? [{ k: 'Seconds', n: due }] : due,
    turnGapMs: 12_000,
    hushMs: 86_400_000,
    side: 'Left',
    band: '#000000',
    bandInk: '#FFFFFF',
    ground: '#FFFFFF',
    ink: '#000000',
    closeMark: true,
    framed: true,
    lang: 'en',
    drawn: true,
    turns: staysS.map((s) => ({ spans: [], ...(s === undefined ? {} : { stayMs: s * 1000 }) })),
    ...extra,
  };
}

type Doing = [atS: number, act: (queue: Queue, nowMs: number) => void];
interface Setting {
  visit?: Visit;
  rules?: Rules;
  touch?: boolean;
  noRoom?: string[];
  ready?: (cue: Cue) => boolean | undefined;
}

const does = (atS: number, act: Act): Doing => [atS, (q, now) => q.act(act, now)];
const closes = (atS: number, id: string): Doing => [atS, (q, now) => q.finish(id, 'closed', now)];
const clicks = (atS: number, id: string): Doing => [atS, (q, now) => q.finish(id, 'clicked', now)];
const holds = (fromS: number, toS: number, what: 'consent' | 'chat' | 'dialog'): Doing[] => [
  [fromS, (q, now) => q.hold(what, true, now)],
  [toS, (q, now) => q.hold(what, false, now)],
];

/** Runs the queue for two minutes on its own clock and writes down what happened, in seconds. */
function play(cues: Cue[], doings: Doing[] = [], { visit = FRESH, rules = RULES, touch = false, noRoom = [], ready }: Setting = {}) {
  const seen: string[] = [];
  let now = 0;
  const queue = createQueue(cues, rules, visit, touch, {
    ready: ready ?? (() => true),
    start(c, turn, asked) {
      if (noRoom.includes(c.id)) return false;
      seen.push(`start ${c.id}${turn + 1} ${now / 1000}${asked ? ' asked' : ''}`);
      return true;
    },
    end: (c, turn, by) => seen.push(`end ${c.id}${turn + 1} ${now / 1000} ${by}`),
  });
  const left = [...doings].sort((a, b) => a[0] - b[0]);
  while (now <= 120_000) {
    for (let next = left[0]; next && next[0] * 1000 <= now; next = left[0]) {
      left.shift();
      next[1](queue, now);
    }
    queue.step(now);
    now = Math.max(now + 1, Math.min(queue.nextMs(now) ?? 120_001, left[0] ? left[0][0] * 1000 : 120_001));
  }
  return seen;
}

describe('the queue', () => {
  it('tells turns one after another and lets another callout in between', () => {
    expect(play([cue('T', 20, [7], { priority: 3 }), cue('M', 6, [7, 7, 7])])).toEqual([
      'start M1 6',
      'end M1 13 stayed',
      'start T1 23',
      'end T1 30 stayed',
      'start M2 40',
      'end M2 47 stayed',
      'start M3 59',
      'end M3 66 stayed',
    ]);
  });

  it('keeps the gap across pages', () => {
    expect(play([cue('A', 0, [7])], [], { visit: { ...FRESH, starts: 1, sinceLastEndMs: 4_000 } })).toEqual([
      'start A1 6',
      'end A1 13 stayed',
    ]);
  });

  it('starts nothing once the visit has had its fill, nor during a hush', () => {
    expect(play([cue('A', 5, [7])], [], { visit: { ...FRESH, starts: 6 } })).toEqual([]);
    expect(play([cue('A', 5, [7])], [], { visit: { ...FRESH, hushLeftMs: 3_600_000 } })).toEqual([]);
  });

  it('lets a callout give up when its patience ends before its place is free', () => {
    expect(play([cue('L', 5, [60]), cue('S', 6, [7], { priority: 6 })])).toEqual(['start L1 5', 'end L1 65 stayed']);
  });

  it('lets the more urgent of two go first, and of equals the older', () => {
    expect(play([cue('B', 5, [7]), cue('A', 5, [7], { priority: 1 })])[0]).toBe('start A1 5');
    expect(play([cue('B', 5, [7]), cue('A', 5, [7])])[0]).toBe('start B1 5');
  });

  it('hushes everything after a close, and nothing after a click', () => {
    const two = [cue('A', 5, [7]), cue('B', 30, [7])];
    expect(play(two, [closes(6, 'A')])).toEqual(['start A1 5', 'end A1 6 closed']);
    expect(play(two, [clicks(6, 'A')])).toEqual(['start A1 5', 'end A1 6 clicked', 'start B1 30', 'end B1 37 stayed']);
  });

  it('after a closed dialog hushes dialogs only', () => {
    const cues = [cue('D', 5, [undefined], { shape: 'Poster' }), cue('S', 30, [7]), cue('E', 40, [7], { shape: 'Curtain' })];
    expect(play(cues, [closes(8, 'D')])).toEqual(['start D1 5', 'end D1 8 closed', 'start S1 30', 'end S1 37 stayed']);
  });

  it('lets a stay stand still while the pointer rests on it', () => {
    const rests: Doing[] = [
      [2, (q, now) => q.hover('A', true, now)],
      [30, (q, now) => q.hover('A', false, now)],
    ];
    expect(play([cue('A', 0, [7])], rests)).toEqual(['start A1 0', 'end A1 35 stayed']);
  });

  it('starts an inset whatever is on screen, and takes no place for it', () => {
    expect(play([cue('S', 5, [60]), cue('I', 10, [undefined], { shape: 'Inset' })])).toContain('start I1 10');
  });

  it('starts what is asked for at once, and what floats yields', () => {
    const asked = cue('A', [{ k: 'Click', t: '#more' }], [7]);
    const seen = play([cue('S', 5, [60]), asked], [does(10, { k: 'Click', t: '#more' })]);
    expect(seen).toEqual(['start S1 5', 'end S1 10 yielded', 'start A1 10 asked', 'end A1 17 stayed']);
  });

  it('asks again as often as the visitor does', () => {
    const asked = cue('A', [{ k: 'Click', t: '#more' }], [7]);
    const seen = play([asked], [does(1, { k: 'Click', t: '#more' }), does(30, { k: 'Click', t: '#more' })]);
    expect(seen.filter((s) => s.startsWith('start'))).toEqual(['start A1 1 asked', 'start A1 30 asked']);
  });

  it('waits for all of its triggers, or for any', () => {
    const both: Trigger[] = [
      { k: 'Seconds', n: 10 },
      { k: 'Scroll', n: 50 },
    ];
    expect(play([cue('A', both, [7])], [does(30, { k: 'Scroll', n: 60 })])[0]).toBe('start A1 30');
    expect(play([cue('A', both, [7], { any: true })], [does(4, { k: 'Scroll', n: 60 })])[0]).toBe('start A1 4');
    expect(play([cue('A', both, [7])], [does(30, { k: 'Scroll', n: 49 })])).toEqual([]);
  });

  it('knows rest from doing', () => {
    expect(play([cue('A', [{ k: 'Idle', n: 20 }], [7])], [does(15, { k: 'Move' })])[0]).toBe('start A1 35');
  });

  it('takes leaving for what it is on each device', () => {
    const leaving = [cue('A', [{ k: 'Leaving' }], [7])];
    expect(play(leaving, [does(3, { k: 'PointerOut' }), does(7, { k: 'PointerOut' })])[0]).toBe('start A1 7');
    expect(play(leaving, [does(9, { k: 'Hide' })])[0]).toBe('start A1 9');
    expect(play(leaving, [does(3, { k: 'FlickUp' }), does(9, { k: 'FlickUp' })], { touch: true })[0]).toBe('start A1 9');
    expect(play(leaving, [does(9, { k: 'PointerOut' })], { touch: true })).toEqual([]);
  });

  it('begins all waits again once the consent notice is closed', () => {
    expect(play([cue('A', 6, [20])], holds(10, 30, 'consent'))).toEqual(['start A1 6', 'end A1 10 yielded']);
    expect(play([cue('B', 12, [7])], holds(0, 30, 'consent'))[0]).toBe('start B1 42');
  });

  it('ends what floats when a chat or a dialog of the page opens, not a dialog of ours', () => {
    const poster = cue('D', 5, [undefined], { shape: 'Poster' });
    expect(play([cue('A', 5, [30])], holds(9, 60, 'dialog'))).toEqual(['start A1 5', 'end A1 9 yielded']);
    expect(play([poster], [...holds(9, 20, 'chat'), closes(30, 'D')])).toEqual(['start D1 5', 'end D1 30 closed']);
    expect(play([poster], holds(9, 20, 'consent'))).toEqual(['start D1 5', 'end D1 9 yielded']);
  });

  it('ends what is over, and nothing brings it back', () => {
    const over = (atS: number, id: string): Doing => [atS, (q, now) => q.over(id, now)];
    expect(play([cue('A', 5, [30, 30])], [over(9, 'A')])).toEqual(['start A1 5', 'end A1 9 over']);
    expect(play([cue('A', 5, [7])], [over(3, 'A')])).toEqual([]);
    const asked = cue('A', [{ k: 'Click', t: '#more' }], [7]);
    expect(play([asked], [over(3, 'A'), does(9, { k: 'Click', t: '#more' })])).toEqual([]);
  });

  it('asks for the budget at every start, also of two at once', () => {
    const rules = { ...RULES, atOnce: 2, mostPerVisit: 1 };
    expect(play([cue('A', 5, [7]), cue('B', 5, [7])], [], { rules })).toEqual(['start A1 5', 'end A1 12 stayed']);
  });

  it('lets patience stand still while a chat is open', () => {
    expect(play([cue('A', 6, [7])], holds(0, 60, 'chat'))[0]).toBe('start A1 60');
  });

  it('goes round until closed where the rounds have no end', () => {
    const starts = play([cue('A', 0, [7, 7], { rounds: 0 })], [closes(60, 'A')]).filter((s) => s.startsWith('start'));
    expect(starts).toEqual(['start A1 0', 'start A2 19', 'start A1 38', 'start A2 57']);
  });

  it('lets the next have its place when there is no room, and waits while it is not known whether it may', () => {
    expect(play([cue('A', 5, [7]), cue('B', 5, [7])], [], { noRoom: ['A'] })[0]).toBe('start B1 5');
    let asked = 0;
    const ready = () => (++asked > 2 ? true : undefined);
    expect(play([cue('A', 5, [7])], [does(6, { k: 'Move' }), does(7, { k: 'Move' })], { ready })[0]).toBe('start A1 7');
    expect(play([cue('A', 5, [7])], [], { ready: () => false })).toEqual([]);
  });
});
