import { createQueue, type EndedBy, type Hold } from '../model/queue';
import type { Act } from '../model/triggers';
import type { Cue, LogEntry, PlanResponse, Turn, Words } from '../model/types';
import type { VisibleClock } from '../model/visibleClock';
import type { More } from '../shapes';
import { watchActs } from './acts';
import type { ShapeEvents } from './anatomy';
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
  /** Takes everything off and stops. */
  leave(): void;
}

/** Draws a shape that is loaded on demand; undefined when there is no room or no place for it. */
export type Draw = (cue: Cue, turn: Turn, words: Words, clear: string, on: ShapeEvents) => Drawn | undefined;

/** What the page view needs of the world around it. */
export interface Around {
  signals: Signals;
  /** Is told what became of callouts, for the visitor's passport. */
  note(callout: string, what: LogEntry['what']): void;
  /** Fetches the second file; undefined when it cannot be had. */
  loadMore(): Promise<More | undefined>;
  /** Asks whether somebody of the team is there. */
  askIfThere(): Promise<boolean>;
}

/** Whether a cue needs more than the first file draws. */
const needsMore = ({ shape, code, turns }: Cue) => shape !== 'Slip' || !!code || turns.some((t) => t.countdown || t.detail || t.button);

/** Starts performing. */
export function performPage(plan: PlanResponse, clock: VisibleClock, around: Around): PageView {
  const clear = ['[data-outcry-keep]', plan.rules.clear].filter(Boolean).join();
  const onScreen = new Map<string, Drawn & { undo(): void }>();
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
  if (videos.length + views.length > 0 || plan.cues.some(needsMore)) {
    isLoading = true;
    void around.loadMore().then((loaded) => {
      more = loaded;
      isLoading = false;
      if (gone) return;
      if (more && videos.length > 0) undo.push(more.watchVideos(videos, (t) => act({ k: 'VideoEnd', t })));
      if (more && views.length > 0) undo.push(more.watchViews(views, (t) => act({ k: 'InView', t })));
      run();
    });
  }

  const queue = createQueue(plan.cues, plan.rules, plan.visit, isTouch, {
    ready(cue) {
      if (needsMore(cue) && isLoading) return undefined;
      if (!cue.ifThere) return true;
      const answer = there;
      if (answer === undefined && !isAsking) {
        isAsking = true;
        void around.askIfThere().then((yes) => {
          there = yes;
          isAsking = false;
          if (!gone) run();
        });
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
    drawing(() => queue.step(clock.nowMs()));
    const next = queue.nextMs(clock.nowMs());
    if (next !== undefined) timer = setTimeout(run, Math.max(0, next - clock.nowMs()));
  }

  function drawing(change: () => void) {
    isDrawing = true;
    change();
    isDrawing = false;
  }

  function start(cue: Cue, turnIndex: number, asked: boolean, isFirst: boolean): boolean {
    const turn = cue.turns[turnIndex];
    const words = plan.words[cue.lang];
    if (!turn || !words) return false;
    const events: ShapeEvents = {
      closed: () => finish(cue, 'closed'),
      clicked: () => finish(cue, 'clicked'),
      hold: () => hover(cue, true),
      release: () => hover(cue, false),
    };
    const shown = needsMore(cue) ? more?.draw(cue, turn, words, clear, events) : showSlip(cue, turn, words, clear, events);
    if (!shown) return false;
    shown.element.dataset.id = cue.id;
    if (isFirst) around.note(cue.id, asked ? 'ask' : 'start');
    const undo = isFirst ? whenSeen(shown.element, () => around.signals.add('shown', cue.id)) : () => {};
    onScreen.set(cue.id, { ...shown, undo });
    return true;
  }

  function end(cue: Cue, _turn: number, by: EndedBy, asked: boolean) {
    takeOff(cue.id);
    if (!asked) around.note(cue.id, 'end');
    if (by === 'closed' || by === 'clicked') {
      around.note(cue.id, by === 'closed' ? 'close' : 'click');
      around.signals.add(by, cue.id);
    }
    if (by === 'clicked') around.signals.flush();
  }

  function takeOff(id: string) {
    const shown = onScreen.get(id);
    onScreen.delete(id);
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

  const undo = [watchActs(plan.cues, plan.rules, { act, hold })];
  return {
    run,
    act,
    hold,
    leave() {
      gone = true;
      clearTimeout(timer);
      for (const end of undo) end();
      for (const id of [...onScreen.keys()]) {
        takeOff(id);
        around.note(id, 'end');
      }
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
