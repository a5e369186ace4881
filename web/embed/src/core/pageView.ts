import { readable, watchHolds } from './acts';
import { quiet } from './bare';
import type { Drawing, Screen, ScreenAround } from './drawing';
import { createQueue, type Hold } from './queue';
import type { Act } from './triggers';
import type { Cue, LogEntry, PlanResponse, Trigger } from './types';
import type { VisibleClock } from './visibleClock';

/** What draws is fetched this long after arrival, unless something is due before: most visits of a page are over by then. */
const DRAWING_AFTER_MS = 2000;

/** Performs one page view's plan on the page. */
export interface PageView {
  /** Runs what is due and sets the timer for what comes next; call when the clock stopped or went on. */
  run(): void;
  /** Lets something that happens on the page count. */
  act(act: Act): void;
  /** The page said that something opened or closed. */
  hold(what: Hold): void;
  /** Ends callouts whose dates or hours ended, which were paused, or all of them as the site goes off air. */
  over(ids: readonly string[]): void;
  /** Takes everything off and stops. */
  leave(): void;
}

/** What the page view needs of the world around it. */
export interface Around extends ScreenAround {
  /** What became of callouts elsewhere, in other tabs, since the last time this was asked. */
  news(): LogEntry[];
  /** Is told that the page changed. */
  changed(): void;
  /** Whether the page says that something is open. */
  isSaidOpen(what: Hold): boolean;
  /** Fetches what draws; undefined when it cannot be had. */
  loadDrawing(): Promise<Drawing | undefined>;
}

/** Starts performing. */
export function performPage(plan: PlanResponse, clock: VisibleClock, around: Around): PageView {
  const seen = new Set<Hold>();
  const isTouch = matchMedia('(hover: none)').matches;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let screen: Screen | undefined;
  let loading: Promise<void> | undefined;
  let isLoaded = false;
  let gone = false;
  /** While something is being drawn or taken off, what the browser tells of the focus is our own doing. */
  let isDrawing = false;

  const load = () => {
    loading ??= around.loadDrawing().then(
      quiet((loaded) => {
        isLoaded = true;
        if (gone) return;
        screen = loaded?.open({
          ...around,
          words: plan.words,
          clear: readable('[data-outcry-keep]', plan.rules.clear),
          finish,
          hover,
          run,
        });
        if (loaded) undo.push(loaded.watch(plan.cues, act));
        run();
      }),
    );
  };

  const queue = createQueue(plan.cues, plan.rules, plan.visit, isTouch, {
    ready(cue) {
      if (isLoaded) return !screen || screen.ready(cue);
      load();
      return undefined;
    },
    start: (...told) => screen?.start(...told) ?? false,
    end: (cue, _turn, by) => screen?.end(cue, by),
  });

  function run() {
    clearTimeout(timer);
    if (gone || isDrawing || clock.isStill()) return;
    const now = clock.nowMs();
    quietly(() => {
      for (const { callout, what, at, hushMs, dialog } of around.news())
        queue.learn(callout, what, now - (Date.now() - at), hushMs, dialog);
      queue.step(clock.nowMs());
    });
    const next = queue.nextMs(clock.nowMs());
    if (next !== undefined) timer = setTimeout(quiet(run), Math.max(0, next - clock.nowMs()));
  }

  function quietly(change: () => void) {
    isDrawing = true;
    try {
      change();
    } finally {
      isDrawing = false;
    }
  }

  function finish(cue: Cue, by: 'closed' | 'clicked') {
    if (isDrawing) return;
    quietly(() => queue.finish(cue.id, by, clock.nowMs()));
    run();
  }

  function hover(cue: Cue, on: boolean) {
    if (isDrawing) return;
    queue.hover(cue.id, on, clock.nowMs());
    run();
  }

  function act(what: Act) {
    queue.act(what, clock.nowMs());
    run();
  }

  // Either is enough: what the page says of itself, and what is seen of it.
  function hold(what: Hold) {
    quietly(() => queue.hold(what, seen.has(what) || around.isSaidOpen(what), clock.nowMs()));
    run();
  }

  function see(what: Hold, open: boolean) {
    seen[open ? 'add' : 'delete'](what);
    hold(what);
  }

  function over(ids: readonly string[]) {
    quietly(() => {
      for (const id of ids) queue.over(id, clock.nowMs());
    });
    run();
  }

  const undo = [watchHolds(plan.rules, { see, changed: around.changed })];
  for (const [id, ms] of Object.entries(plan.ends ?? {})) {
    const ending = setTimeout(
      quiet(() => over([id])),
      ms,
    );
    undo.push(() => clearTimeout(ending));
  }
  if (plan.cues.length > 0) {
    const isLater = ({ k, n = 0 }: Trigger) => k === 'Seconds' && n * 1000 > DRAWING_AFTER_MS;
    const canWait = plan.cues.every(({ triggers = [] }) => triggers[0] && triggers.every(isLater));
    const fetching = setTimeout(quiet(load), canWait ? DRAWING_AFTER_MS : 0);
    undo.push(() => clearTimeout(fetching));
  }
  return {
    run,
    act,
    hold,
    over,
    leave() {
      gone = true;
      clearTimeout(timer);
      for (const end of undo) end();
      screen?.clear();
    },
  };
}
