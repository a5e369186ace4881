import type { Cue, Rules, Visit } from './types';

/** Why a callout left the screen. */
export type EndedBy = 'stayed' | 'closed' | 'clicked' | 'noRoom';

/** What the page must do now. */
export type Change = { do: 'start'; cue: Cue; turn: number } | { do: 'end'; cue: Cue; turn: number; by: EndedBy };

interface Waiting {
  cue: Cue;
  turn: number;
  dueMs: number;
  order: number;
}

interface OnScreen extends Waiting {
  endsMs: number;
  heldSinceMs: number | undefined;
}

/**
 * The page view's small queue: runs the plan exactly as the server's rehearsal does, on whatever clock it is given.
 *
 * All times are milliseconds of visible time since the page view began. It holds no timers and touches no page.
 */
export interface Queue {
  /** Brings the queue up to `nowMs` and says what changed, in order. */
  step(nowMs: number): Change[];
  /** When `step` has to be called next; `undefined` when nothing is left to happen by itself. */
  nextMs(nowMs: number): number | undefined;
  /** Ends a callout that is on screen, by the visitor's close mark or click; after a close the hush begins. */
  end(id: string, by: EndedBy, nowMs: number): Change[];
  /** Stops the stay's clock while the pointer or the focus rests on the callout, and lets it run on. */
  hold(id: string, nowMs: number): void;
  release(id: string, nowMs: number): void;
}

/** Makes the queue of one page view. `cues` come from the older to the newer callout among equals of priority. */
export function createQueue(cues: readonly Cue[], rules: Rules, visit: Visit): Queue {
  let upcoming: Waiting[] = cues.map((cue, order) => ({ cue, turn: 0, dueMs: cue.dueMs, order }));
  let queue: Waiting[] = [];
  let onScreen: OnScreen[] = [];
  let starts = visit.starts;
  let lastEndMs = visit.sinceLastEndMs === undefined ? undefined : -visit.sinceLastEndMs;
  let hushUntilMs = visit.hushLeftMs;

  const gapFreeMs = () => (lastEndMs === undefined ? 0 : lastEndMs + rules.gapMs);

  function finish(shown: OnScreen, by: EndedBy, nowMs: number): Change {
    onScreen = onScreen.filter((s) => s !== shown);
    lastEndMs = nowMs;
    const turn = shown.turn + 1;
    if (by === 'stayed' && turn < shown.cue.turns.length)
      upcoming.push({ cue: shown.cue, turn, dueMs: nowMs + shown.cue.turnGapMs, order: shown.order });
    return { do: 'end', cue: shown.cue, turn: shown.turn, by };
  }

  function mayStart(waiting: Waiting, nowMs: number): boolean {
    if (onScreen.length >= rules.atOnce || gapFreeMs() > nowMs) return false;
    return waiting.turn > 0 || starts < rules.mostPerVisit;
  }

  function start(waiting: Waiting, nowMs: number): Change {
    if (waiting.turn === 0) starts++;
    const stayMs = waiting.cue.turns[waiting.turn]?.stayMs;
    onScreen.push({
      ...waiting,
      endsMs: stayMs === undefined ? Number.POSITIVE_INFINITY : nowMs + stayMs,
      heldSinceMs: undefined,
    });
    return { do: 'start', cue: waiting.cue, turn: waiting.turn };
  }

  // At one instant: ends, then what becomes due, then starts, and only then does patience end.
  function step(nowMs: number): Change[] {
    const changes: Change[] = [];
    for (const shown of onScreen.filter((s) => s.heldSinceMs === undefined && s.endsMs <= nowMs))
      changes.push(finish(shown, 'stayed', nowMs));

    const due = upcoming.filter((w) => w.dueMs <= nowMs);
    upcoming = upcoming.filter((w) => w.dueMs > nowMs);
    queue.push(...due.filter((w) => w.turn > 0 || starts < rules.mostPerVisit));
    queue.sort((a, b) => a.cue.priority - b.cue.priority || a.dueMs - b.dueMs || a.order - b.order);

    if (hushUntilMs > nowMs) queue = [];
    for (let head = queue[0]; head && mayStart(head, nowMs); head = queue[0]) {
      queue.shift();
      changes.push(start(head, nowMs));
    }
    queue = queue.filter((w) => w.dueMs + rules.patienceMs > nowMs);
    return changes;
  }

  function end(id: string, by: EndedBy, nowMs: number): Change[] {
    const shown = onScreen.find((s) => s.cue.id === id);
    if (!shown) return [];
    const change = finish(shown, by, nowMs);
    if (by === 'closed') hushUntilMs = Math.max(hushUntilMs, nowMs + shown.cue.hushMs);
    return [change, ...step(nowMs)];
  }

  return {
    step,
    end,
    nextMs(nowMs) {
      const times = [
        ...upcoming.map((w) => w.dueMs),
        ...queue.map((w) => w.dueMs + rules.patienceMs),
        ...onScreen.filter((s) => s.heldSinceMs === undefined).map((s) => s.endsMs),
      ];
      if (queue.length > 0 && gapFreeMs() > nowMs) times.push(gapFreeMs());
      const next = Math.min(...times);
      return Number.isFinite(next) ? next : undefined;
    },
    hold(id, nowMs) {
      const shown = onScreen.find((s) => s.cue.id === id);
      if (shown) shown.heldSinceMs ??= nowMs;
    },
    release(id, nowMs) {
      const shown = onScreen.find((s) => s.cue.id === id);
      if (shown?.heldSinceMs === undefined) return;
      shown.endsMs += nowMs - shown.heldSinceMs;
      shown.heldSinceMs = undefined;
    },
  };
}
