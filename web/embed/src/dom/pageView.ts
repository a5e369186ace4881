import { createQueue, type EndedBy, type Hold } from '../model/queue';
import type { Act } from '../model/triggers';
import type { Cue, LogEntry, PlanResponse, Turn, Words } from '../model/types';
import type { VisibleClock } from '../model/visibleClock';
import type { More } from '../shapes';
import { readable, watchActs } from './acts';
import type { ShapeEvents } from './anatomy';
import { quiet } from './bare';
import type { Signals } from './signals';
import { type Drawn, showSlip } from './slip';

/** Half visible for this long counts as shown. */
const SHOWN_AFTER_MS = 1000;

/** Performs one page view's plan on the page. */
export interface PageView {
  /** Runs what is due and sets the timer for what comes next; call when the clock stopped or went on. */
  run(): void;
  /** Lets something that happens on the page count. */
  act(act: Act): void;
  hold(what: Hold, open: boolean): void;
  /** Ends callouts whose dates or hours ended, which were paused, or all of them as the site goes off air. */
  over(ids: readonly string[]): void;
  /** Takes everything off and stops. */
  leave(): void;
}

/** Draws a shape that is loaded on demand; undefined when there is no room or no place for it. */
export type Draw = (cue: Cue, turn: Turn, words: Words, clear: string, on: ShapeEvents) => Drawn | undefined;

/** What the page view needs of the world around it. */
export interface Around {
  signals: Signals;
  /** Is told what became of callouts, for the visitor's passport. */
  note(entry: Omit<LogEntry, 'at'>): void;
  /** What became of callouts elsewhere, in other tabs, since the last time this was asked. */
  news(): LogEntry[];
  /** Is told that the page changed. */
  changed(): void;
  /** Fetches the second file; undefined when it cannot be had. */
  loadMore(): Promise<More | undefined>;
  /** Asks whether somebody of the team is there. */
  askIfThere(): Promise<boolean>;
}

/** Whether a cue needs more than the first file draws. */
const needsMore = ({ shape, code, turns }: Cue) => shape !== 'Slip' || !!code || turns.some((t) => t.countdown || t.detail || t.button);

/** Starts performing. */
export function performPage(plan: PlanResponse, clock: VisibleClock, around: Around): PageView {
  const clear = readable('[data-outcry-keep]', plan.rules.clear);
  const onScreen = new Map<string, Drawn & { takesPlace: boolean; undo(): void }>();
  const isTouch = matchMedia('(hover: none)').matches;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let more: More | undefined;
  let isLoading = false;
  let there: boolean | undefined;
  let isAsking = false;
  let gone = false;
  /** While something is being drawn or taken off, what the browser tells of the focus is our own doing. */
  let isDrawing = false;

  const rare = (kind: string) => [
    ...new Set(plan.cues.flatMap((c) => c.triggers ?? []).flatMap(({ k, t = '' }) => (k === kind ? [t] : []))),
  ];
  const [videos, views] = [rare('VideoEnd'), rare('InView')];
  if (plan.shapes) {
    isLoading = true;
    void around.loadMore().then(
      quiet((loaded) => {
        more = loaded;
        isLoading = false;
        if (gone) return;
        if (more && videos.length > 0) undo.push(more.watchVideos(videos, (t) => act({ k: 'VideoEnd', t })));
        if (more && views.length > 0) undo.push(more.watchViews(views, (t) => act({ k: 'InView', t })));
        run();
      }),
    );
  }

  const queue = createQueue(plan.cues, plan.rules, plan.visit, isTouch, {
    ready(cue) {
      // A card that will stand with others is drawn by what can stack them.
      if (isLoading && (needsMore(cue) || onScreen.size > 0)) return undefined;
      if (!cue.ifThere) return true;
      const answer = there;
      if (answer === undefined && !isAsking) {
        isAsking = true;
        void around.askIfThere().then(
          quiet((yes) => {
            there = yes;
            isAsking = false;
            if (!gone) run();
          }),
        );
      }
      // An answer holds for the one start that it was asked for.
      there = undefined;
      return answer;
    },
    start,
    end,
  });

  function run() {
    clearTimeout(timer);
    if (gone || isDrawing || clock.isStill()) return;
    const now = clock.nowMs();
    drawing(() => {
      for (const { callout, what, at, hushMs, dialog } of around.news())
        queue.learn(callout, what, now - (Date.now() - at), hushMs, dialog);
      queue.step(clock.nowMs());
    });
    const next = queue.nextMs(clock.nowMs());
    if (next !== undefined) timer = setTimeout(quiet(run), Math.max(0, next - clock.nowMs()));
  }

  function drawing(change: () => void) {
    isDrawing = true;
    try {
      change();
    } finally {
      isDrawing = false;
    }
  }

  function start(cue: Cue, turnIndex: number, asked: boolean, isFirst: boolean): boolean {
    const turn = cue.turns[turnIndex];
    const words = plan.words[cue.lang];
    if (!turn || !words) return false;
    const events: ShapeEvents = {
      closed: quiet(() => finish(cue, 'closed')),
      clicked: quiet(() => finish(cue, 'clicked')),
      hold: quiet(() => hover(cue, true)),
      release: quiet(() => hover(cue, false)),
    };
    const draw = more?.draw ?? (needsMore(cue) ? undefined : showSlip);
    const shown = draw?.(cue, turn, words, clear, events);
    if (!shown) return false;
    shown.element.dataset.id = cue.id;
    const takesPlace = !asked && cue.shape !== 'Inset';
    if (isFirst) around.note({ callout: cue.id, what: takesPlace ? 'start' : 'ask' });
    const undo = isFirst ? whenSeen(shown.element, () => around.signals.add('shown', cue.id)) : () => {};
    onScreen.set(cue.id, { ...shown, undo, takesPlace });
    return true;
  }

  function end(cue: Cue, _turn: number, by: EndedBy) {
    takeOff(cue.id);
    if (by === 'closed')
      around.note({
        callout: cue.id,
        what: 'close',
        hushMs: cue.hushMs,
        dialog: cue.shape === 'Poster' || cue.shape === 'Curtain',
      });
    else if (by === 'clicked') around.note({ callout: cue.id, what: 'click' });
    if (by === 'closed' || by === 'clicked') around.signals.add(by, cue.id);
    if (by === 'clicked') around.signals.flush();
  }

  function takeOff(id: string) {
    const shown = onScreen.get(id);
    onScreen.delete(id);
    // What was asked for leaves no gap behind, nor does what stands in the page's own content.
    if (shown?.takesPlace) around.note({ callout: id, what: 'end' });
    shown?.undo();
    shown?.remove();
  }

  function finish(cue: Cue, by: 'closed' | 'clicked') {
    if (isDrawing) return;
    drawing(() => queue.finish(cue.id, by, clock.nowMs()));
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

  function hold(what: Hold, open: boolean) {
    drawing(() => queue.hold(what, open, clock.nowMs()));
    run();
  }

  function over(ids: readonly string[]) {
    drawing(() => {
      for (const id of ids) queue.over(id, clock.nowMs());
    });
    run();
  }

  const undo = [watchActs(plan.cues, plan.rules, { act, hold, changed: around.changed })];
  for (const [id, ms] of Object.entries(plan.ends ?? {})) {
    const ending = setTimeout(
      quiet(() => over([id])),
      ms,
    );
    undo.push(() => clearTimeout(ending));
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
      for (const id of [...onScreen.keys()]) takeOff(id);
    },
  };
}

function whenSeen(element: Element, seen: () => void): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const look = quiet(() => {
    // A card behind another is seen once it comes out.
    if (element.matches('.behind:not(.out)')) {
      timer = setTimeout(look, SHOWN_AFTER_MS);
      return;
    }
    observer.disconnect();
    seen();
  });
  const observer = new IntersectionObserver(
    ([entry]) => {
      clearTimeout(timer);
      if (entry?.isIntersecting) timer = setTimeout(look, SHOWN_AFTER_MS);
    },
    { threshold: 0.5 },
  );
  observer.observe(element);
  return () => {
    clearTimeout(timer);
    observer.disconnect();
  };
}
