import { type Change, createQueue, type EndedBy } from '../model/queue';
import type { Cue, LogEntry, PlanResponse } from '../model/types';
import type { VisibleClock } from '../model/visibleClock';
import type { Signals } from './signals';
import { showSlip } from './slip';

/** Half visible for this long counts as shown. */
const SHOWN_AFTER_MS = 1000;

interface Shown {
  remove(): void;
  undo(): void;
}

/** Performs one page view's plan on the page. */
export interface PageView {
  /** Runs what is due and sets the timer for what comes next; call when the clock stopped or went on. */
  run(): void;
  /** Takes everything off and stops. */
  leave(): void;
}

/** Starts performing. `note` is told what became of callouts, for the visitor's passport. */
export function performPage(
  plan: PlanResponse,
  clock: VisibleClock,
  signals: Signals,
  note: (callout: string, what: LogEntry['what']) => void,
): PageView {
  const queue = createQueue(plan.cues, plan.rules, plan.visit);
  const onScreen = new Map<string, Shown>();
  let timer: ReturnType<typeof setTimeout> | undefined;

  function run() {
    clearTimeout(timer);
    if (clock.isStill()) return;
    apply(queue.step(clock.nowMs()));
    const next = queue.nextMs(clock.nowMs());
    if (next !== undefined) timer = setTimeout(run, Math.max(0, next - clock.nowMs()));
  }

  function finish(cue: Cue, by: EndedBy) {
    apply(queue.end(cue.id, by, clock.nowMs()));
    run();
  }

  function apply(changes: Change[]) {
    for (const change of changes) {
      if (change.do === 'start') start(change.cue, change.turn);
      else end(change.cue, change.by);
    }
  }

  function start(cue: Cue, turnIndex: number) {
    const turn = cue.turns[turnIndex];
    const slip =
      turn &&
      showSlip(cue, turn, {
        closed: () => finish(cue, 'closed'),
        clicked: () => finish(cue, 'clicked'),
        hold: () => {
          queue.hold(cue.id, clock.nowMs());
          run();
        },
        release: () => {
          queue.release(cue.id, clock.nowMs());
          run();
        },
      });
    if (!slip) {
      setTimeout(() => finish(cue, 'noRoom'));
      return;
    }
    if (turnIndex === 0) note(cue.id, 'start');
    const undo = turnIndex === 0 ? whenSeen(slip.element, () => signals.add('shown', cue.id)) : () => {};
    onScreen.set(cue.id, { remove: slip.remove, undo });
  }

  function end(cue: Cue, by: EndedBy) {
    const shown = onScreen.get(cue.id);
    shown?.undo();
    shown?.remove();
    onScreen.delete(cue.id);
    if (by === 'noRoom') return;
    note(cue.id, 'end');
    if (by === 'closed' || by === 'clicked') {
      note(cue.id, by === 'closed' ? 'close' : 'click');
      signals.add(by, cue.id);
    }
    if (by === 'clicked') signals.flush();
  }

  return {
    run,
    leave() {
      clearTimeout(timer);
      for (const [callout, shown] of onScreen) {
        shown.undo();
        shown.remove();
        note(callout, 'end');
      }
      onScreen.clear();
    },
  };
}

function whenSeen(element: Element, seen: () => void): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const observer = new IntersectionObserver(
    ([entry]) => {
      clearTimeout(timer);
      if (entry?.isIntersecting)
        timer = setTimeout(() => {
          observer.disconnect();
          seen();
        }, SHOWN_AFTER_MS);
    },
    { threshold: 0.5 },
  );
  observer.observe(element);
  return () => {
    clearTimeout(timer);
    observer.disconnect();
  };
}
