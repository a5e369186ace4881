import type { Cue, Trigger } from './types';

/** Something that happens on the page. `t` is the trigger's own target; a page event by a callout's id calls that callout; `n` the percent of the page scrolled to. */
export type Act =
  | { k: 'Scroll'; n: number }
  | { k: 'InView' | 'Click' | 'VideoEnd' | 'PageEvent'; t: string }
  | { k: 'PointerOut' | 'FlickUp' | 'Hide' | 'Return' | 'Move' };

/** Which of a callout's triggers have held. One that has held once on a page view stays so. */
export interface TriggerWatch {
  holds(): boolean;
  /** Lets an act count; true when the callout is asked for by it: by its click, or called by its id. */
  take(act: Act, leaves: boolean): boolean;
  /** Lets time count. */
  wait(waitedMs: number, idleMs: number): void;
  /** Milliseconds of waiting until the next of its times is reached; infinite when there is none. */
  nextMs(waitedMs: number, idleMs: number): number;
  /** Waits begin again: what time alone had brought has not held; what the visitor did has. */
  restartWaits(): void;
  /** Forgets clicks, so that the next one counts anew. */
  forgetClicks(): void;
}

/** Whether a click alone brings the callout. */
const mayBeAsked = ({ triggers = [], any }: Cue) =>
  triggers.length > 0 && (any ? triggers.some((t) => t.k === 'Click') : triggers.every((t) => t.k === 'Click'));

/** Watches the triggers of a callout; of one that may only be asked for, its clicks. */
export function watchTriggers(cue: Cue): TriggerWatch {
  const all = cue.triggers ?? [];
  const triggers = cue.asked ? all.filter((t) => t.k === 'Click') : all;
  const held = new Set<Trigger>();

  const leftOf = ({ k, n = 0 }: Trigger, waitedMs: number, idleMs: number) =>
    k === 'Seconds' ? n * 1000 - waitedMs : k === 'Idle' ? n * 1000 - Math.min(idleMs, waitedMs) : Number.POSITIVE_INFINITY;

  const meets = (trigger: Trigger, act: Act, leaves: boolean) => {
    if (trigger.k === 'Leaving') return leaves;
    if (trigger.k !== act.k) return false;
    if (act.k === 'Scroll') return act.n >= (trigger.n ?? 0);
    return 't' in act && (act.t === (trigger.t ?? '') || (trigger.k === 'VideoEnd' && !trigger.t));
  };

  const forget = (...kinds: Trigger['k'][]) => {
    for (const trigger of triggers) if (kinds.includes(trigger.k)) held.delete(trigger);
  };

  const holds = () => triggers.length === 0 || (cue.any ? held.size > 0 : held.size === triggers.length);

  return {
    holds,
    take(act, leaves) {
      let clicked = false;
      for (const trigger of triggers)
        if (meets(trigger, act, leaves)) {
          held.add(trigger);
          clicked ||= trigger.k === 'Click';
        }
      return ('t' in act && act.t === cue.id) || (clicked && mayBeAsked(cue) && (!!cue.any || holds()));
    },
    wait(waitedMs, idleMs) {
      for (const trigger of triggers) if (leftOf(trigger, waitedMs, idleMs) <= 0) held.add(trigger);
    },
    nextMs: (waitedMs, idleMs) =>
      Math.min(...triggers.filter((t) => !held.has(t)).map((t) => leftOf(t, waitedMs, idleMs)), Number.POSITIVE_INFINITY),
    restartWaits: () => forget('Seconds', 'Idle'),
    forgetClicks: () => forget('Click'),
  };
}
