import { type Act, type TriggerWatch, watchTriggers } from './triggers';
import type { Cue, Rules, Visit } from './types';

/** Why a callout left the screen. */
export type EndedBy = 'stayed' | 'closed' | 'clicked' | 'yielded' | 'over';

/** Something that holds everything up while it is open. */
export type Hold = 'consent' | 'chat' | 'dialog';

/** What performs the queue's decisions on the page. */
export interface Performer {
  /** Puts a turn on the screen; false when the page leaves no room for it. */
  start(cue: Cue, turn: number, asked: boolean, isFirst: boolean): boolean;
  end(cue: Cue, turn: number, by: EndedBy, asked: boolean): void;
  /** Whether a callout may start now, its place being free; undefined while that is not known yet. */
  ready(cue: Cue): boolean | undefined;
}

/**
 * The page view's small queue: runs the plan exactly as the server's rehearsal does, on whatever clock it is given.
 *
 * All times are milliseconds of visible time since the page view began. It holds no timers and touches no page.
 */
export interface Queue {
  /** Brings the queue up to `nowMs`. */
  step(nowMs: number): void;
  /** When `step` has to be called next; `undefined` when nothing is left to happen by itself. */
  nextMs(nowMs: number): number | undefined;
  /** Lets something that happens on the page count. */
  act(act: Act, nowMs: number): void;
  /** Ends a callout that is on screen, by the visitor's close mark or click; after a close the hush begins. */
  finish(id: string, by: 'closed' | 'clicked', nowMs: number): void;
  /** Stops the stay's clock while the pointer or the focus rests on the callout, and lets it run on. */
  hover(id: string, on: boolean, nowMs: number): void;
  /** Something of the page's own opens that holds everything up, or closes. */
  hold(what: Hold, open: boolean, nowMs: number): void;
  /** A callout's dates or hours end, it is paused, or the site goes off air: it ends, and nothing brings it back. */
  over(id: string, nowMs: number): void;
  /** Something became of a callout in another tab, at `atMs`, which may lie before this page view: it counts here too. */
  learn(id: string, what: 'start' | 'ask' | 'end' | 'close' | 'click', atMs: number, hushMs?: number, dialog?: boolean): void;
}

/** Nobody is taken to be leaving before this. */
const EARLIEST_LEAVING_MS = 5000;

const NEVER = Number.POSITIVE_INFINITY;

interface Part {
  cue: Cue;
  order: number;
  kind: 'floating' | 'dialog' | 'inset';
  triggers: TriggerWatch;
  phase: 'armed' | 'resting' | 'queued' | 'on' | 'over';
  asked: boolean;
  gone?: boolean;
  /** Which showing is next or on, from 0, counted through all rounds. */
  showing: number;
  dueMs: number;
  /** On the clock that stands still while something holds everything up. */
  givesUpAt: number;
  endsMs: number;
  heldSinceMs: number | undefined;
}

/** Makes the queue of one page view. `cues` come from the older to the newer callout among equals of priority. */
export function createQueue(cues: readonly Cue[], rules: Rules, visit: Visit, isTouch: boolean, performer: Performer): Queue {
  const parts: Part[] = cues.map((cue, order) => ({
    cue,
    order,
    kind: cue.shape === 'Inset' ? 'inset' : cue.shape === 'Poster' || cue.shape === 'Curtain' ? 'dialog' : 'floating',
    triggers: watchTriggers(cue),
    phase: 'armed',
    asked: false,
    showing: 0,
    dueMs: 0,
    givesUpAt: 0,
    endsMs: NEVER,
    heldSinceMs: undefined,
  }));
  const open: Record<Hold, boolean> = { consent: false, chat: false, dialog: false };
  let clockMs = 0;
  let patienceMs = 0;
  let starts = visit.starts;
  let lastEndMs = visit.sinceLastEndMs === undefined ? undefined : -visit.sinceLastEndMs;
  let hushMs = visit.hushLeftMs;
  let dialogHushMs = visit.dialogHushLeftMs;
  let waitsSinceMs = 0;
  let activeMs = 0;

  // A greeting that opens the panel is that panel while it is on.
  const isHeld = () => open.consent || open.chat || open.dialog || parts.some((p) => p.phase === 'on' && p.cue.opens);
  const gapFreeMs = () => (lastEndMs === undefined ? 0 : lastEndMs + rules.gapMs);
  const hushOverMs = ({ asked, kind }: Part) => (asked ? 0 : kind === 'dialog' ? Math.max(hushMs, dialogHushMs) : hushMs);
  const takesPlace = ({ kind, asked }: Part) => kind !== 'inset' && !asked;
  const turnOf = ({ cue, showing }: Part) => showing % cue.turns.length;
  const find = (id: string) => parts.find((p) => p.phase === 'on' && p.cue.id === id);

  function moveTo(nowMs: number) {
    if (!isHeld()) patienceMs += nowMs - clockMs;
    clockMs = nowMs;
  }

  function finish(part: Part, by: EndedBy) {
    const { cue, asked } = part;
    const rounds = cue.rounds ?? 1;
    if (takesPlace(part)) lastEndMs = clockMs;
    const turn = turnOf(part);
    const goesOn = (by === 'stayed' || by === 'yielded') && (rounds === 0 || part.showing + 1 < cue.turns.length * rounds);
    part.triggers.forgetClicks();
    part.asked = false;
    part.phase = goesOn ? 'resting' : 'over';
    if (goesOn) {
      part.showing++;
      part.dueMs = clockMs + cue.turnGapMs;
    }
    performer.end(cue, turn, by, asked);
  }

  function drop(part: Part) {
    part.phase = 'over';
    part.asked = false;
    part.triggers.forgetClicks();
  }

  function queueUp(part: Part, dueMs: number) {
    part.phase = 'queued';
    part.dueMs = dueMs;
    part.givesUpAt = patienceMs + rules.patienceMs;
  }

  function start(part: Part): boolean {
    const { cue, asked } = part;
    const ready = performer.ready(cue);
    if (ready === undefined) return false;
    if (!ready) {
      drop(part);
      return true;
    }
    if ((asked && part.kind !== 'inset') || cue.opens)
      for (const shown of parts) if (shown.phase === 'on' && shown.kind !== 'inset') finish(shown, 'yielded');
    const turn = turnOf(part);
    // On before it is drawn: drawing moves the focus, and who hears of that must find it there.
    part.phase = 'on';
    part.heldSinceMs = undefined;
    part.endsMs = clockMs + (cue.turns[turn]?.stayMs ?? NEVER);
    if (!performer.start(cue, turn, asked, !part.showing)) drop(part);
    else if (part.showing === 0 && takesPlace(part)) starts++;
    return true;
  }

  function mayStart(part: Part): boolean {
    if (isHeld() || gapFreeMs() > clockMs || isHopeless(part)) return false;
    const over = parts.filter((p) => p.phase === 'on' && p.kind !== 'inset');
    if (over.some((p) => p.asked || p.kind === 'dialog')) return false;
    return part.kind === 'dialog' ? over.length === 0 : over.length < rules.atOnce;
  }

  // A hush and a spent budget outlast the wait of whoever queues, so there is nothing to wait for.
  const isHopeless = (part: Part) => hushOverMs(part) > clockMs || (takesPlace(part) && part.showing === 0 && starts >= rules.mostPerVisit);

  function dropHopeless() {
    for (const part of queued(false)) if (isHopeless(part)) drop(part);
  }

  const queued = (asked: boolean) => parts.filter((p) => p.phase === 'queued' && p.asked === asked);
  const head = (asked = false) =>
    queued(asked)
      .filter((p) => p.kind !== 'inset')
      .sort(rank)[0];

  // Of several that one click asks for the first comes; shown one after the other in one instant nobody would read any.
  function startAsked() {
    for (const part of queued(true)) if (part.kind === 'inset') start(part);
    for (let first = head(true), came = false; first; first = head(true))
      if (came) drop(first);
      else if (!start(first)) return;
      else came = first.phase === 'on';
  }

  function startWhatCan() {
    if (!open.consent) startAsked();
    dropHopeless();
    for (const part of parts) if (part.phase === 'queued' && part.kind === 'inset' && !isHeld()) start(part);
    // Nothing overtakes the head of the queue: of two readings of the rules that is the calmer. But once the last that the
    // visit may see is on, whoever queued with it stands in nobody's way.
    for (let first = head(); first && mayStart(first) && start(first); first = head()) dropHopeless();
  }

  // At one instant: acts, then ends, then what becomes due, then starts, and only then does patience end.
  function step(nowMs: number) {
    moveTo(nowMs);
    for (const part of parts) if (part.phase === 'on' && part.heldSinceMs === undefined && part.endsMs <= nowMs) finish(part, 'stayed');
    if (!open.consent)
      for (const part of parts) {
        if (part.phase === 'armed') {
          part.triggers.wait(nowMs - waitsSinceMs, nowMs - activeMs);
          if (part.triggers.holds()) queueUp(part, nowMs);
        } else if (part.phase === 'resting' && part.dueMs <= nowMs) queueUp(part, part.dueMs);
      }
    startWhatCan();
    if (!isHeld()) for (const part of parts) if (part.phase === 'queued' && part.givesUpAt <= patienceMs) drop(part);
  }

  function hush(until: number, dialogsOnly?: boolean) {
    if (dialogsOnly) dialogHushMs = Math.max(dialogHushMs, until);
    else hushMs = Math.max(hushMs, until);
  }

  // What is on screen stays; what was asked for before is asked for anew.
  function ask(part: Part) {
    if (part.gone || part.phase === 'on') return;
    if (part.phase === 'over' || part.phase === 'resting') part.showing = 0;
    part.asked = true;
    part.phase = 'queued';
    part.dueMs = clockMs;
    part.givesUpAt = NEVER;
  }

  function closeConsent() {
    waitsSinceMs = activeMs = clockMs;
    for (const part of parts) {
      if (part.phase === 'queued' && part.asked) drop(part);
      else if (part.phase === 'queued' && part.showing === 0) part.phase = 'armed';
      if (part.phase === 'queued' || part.phase === 'resting') {
        part.phase = 'resting';
        part.dueMs = clockMs + part.cue.turnGapMs;
      }
      part.triggers.restartWaits();
    }
  }

  return {
    step,
    nextMs(nowMs) {
      let left = NEVER;
      let waits = false;
      for (const part of parts) {
        if (part.phase === 'armed' && !open.consent) left = Math.min(left, part.triggers.nextMs(nowMs - waitsSinceMs, nowMs - activeMs));
        else if (part.phase === 'resting' && !open.consent) left = Math.min(left, part.dueMs - nowMs);
        else if (part.phase === 'on' && part.heldSinceMs === undefined) left = Math.min(left, part.endsMs - nowMs);
        else if (part.phase === 'queued') {
          waits = true;
          if (!isHeld()) left = Math.min(left, part.givesUpAt - patienceMs - (nowMs - clockMs));
        }
      }
      if (waits && gapFreeMs() > nowMs) left = Math.min(left, gapFreeMs() - nowMs);
      return left === NEVER ? undefined : nowMs + Math.max(0, left);
    },
    act(act, nowMs) {
      moveTo(nowMs);
      // Time that ran out before the act counts before it.
      if (!open.consent) for (const part of parts) part.triggers.wait(nowMs - waitsSinceMs, nowMs - activeMs);
      const leaves = nowMs >= EARLIEST_LEAVING_MS && (act.k === 'Hide' || act.k === (isTouch ? 'FlickUp' : 'PointerOut'));
      for (const part of parts) if (part.triggers.take(act, leaves)) ask(part);
      if (!['PointerOut', 'Hide', 'PageEvent', 'VideoEnd'].includes(act.k)) activeMs = nowMs;
    },
    finish(id, by, nowMs) {
      moveTo(nowMs);
      activeMs = nowMs;
      const part = find(id);
      if (!part) return;
      finish(part, by);
      if (by !== 'closed') return;
      hush(nowMs + part.cue.hushMs, part.kind === 'dialog');
    },
    hover(id, on, nowMs) {
      moveTo(nowMs);
      activeMs = nowMs;
      const part = find(id);
      if (!part) return;
      if (on) part.heldSinceMs ??= nowMs;
      else if (part.heldSinceMs !== undefined) {
        part.endsMs += nowMs - part.heldSinceMs;
        part.heldSinceMs = undefined;
      }
    },
    hold(what, isOpen, nowMs) {
      moveTo(nowMs);
      if (open[what] === isOpen) return;
      open[what] = isOpen;
      const isLaw = what === 'consent';
      // A dialog of ours yields to the law only: it has the visitor's focus, and a close of its own.
      if (isOpen) {
        for (const part of parts)
          if (part.phase === 'on' && (part.kind === 'floating' || (isLaw && part.kind === 'dialog'))) finish(part, 'yielded');
      } else if (isLaw) closeConsent();
    },
    over(id, nowMs) {
      moveTo(nowMs);
      for (const part of parts)
        if (part.cue.id === id) {
          part.gone = true;
          if (part.phase === 'on') finish(part, 'over');
          else drop(part);
        }
    },
    learn(id, what, atMs, forMs = 0, dialog) {
      if (what === 'start') starts++;
      if (what === 'end') lastEndMs = Math.max(lastEndMs ?? atMs, atMs);
      if (what === 'close') hush(atMs + forMs, dialog);
      for (const part of parts)
        if (part.cue.id === id && !(part.cue.always && (what === 'start' || what === 'ask'))) {
          // A close is a close everywhere; what came on elsewhere comes on once.
          if (what === 'close' && part.phase === 'on') finish(part, 'over');
          else if (part.phase !== 'on' && what !== 'end' && !part.asked) drop(part);
        }
    },
  };
}

const rank = (a: Part, b: Part) => a.cue.priority - b.cue.priority || a.dueMs - b.dueMs || a.order - b.order;
