import { quiet } from '../core/bare';
import type { Asking, Draw, Drawn, MoreDrawing, Screen, ScreenWorld, ShapeEvents } from '../core/drawing';
import type { EndedBy } from '../core/queue';
import type { Cue } from '../core/types';
import { showSlip } from './slip';

/** Half visible for this long counts as shown. */
const SHOWN_AFTER_MS = 1000;

/** Whether a cue needs more than a plain slip. */
const needsMore = ({ shape, code, turns }: Cue) => shape !== 'Slip' || !!code || turns.some((t) => t.countdown || t.detail || t.button);

/** Opens the screen of one page view; `greet` draws a launcher's greetings, once that is there. */
export function openScreen(
  world: ScreenWorld,
  more: MoreDrawing | undefined,
  greet: () => Draw | undefined,
  ask: Asking | undefined,
): Screen {
  const onScreen = new Map<string, Drawn & { takesPlace: boolean; undo(): void }>();
  const given = new Set<string>();
  let there: boolean | undefined;
  let isAsking = false;
  let gone = false;

  function ready({ ifThere, shape, ask: asks }: Cue): boolean | undefined {
    // A question that cannot be answered is not asked.
    if (asks && !ask) return false;
    // A greeting waits for the launcher by which it stands.
    if (shape === 'Bubble' && !greet()) return undefined;
    if (!ifThere) return true;
    const answer = there;
    if (answer === undefined && !isAsking) {
      isAsking = true;
      void world.askIfThere().then(
        quiet((yes) => {
          there = yes;
          isAsking = false;
          if (!gone) world.run();
        }),
      );
    }
    // An answer holds for the one start that it was asked for.
    there = undefined;
    return answer;
  }

  function start(cue: Cue, turnIndex: number, asked: boolean, isFirst: boolean): boolean {
    const turn = cue.turns[turnIndex];
    const words = world.words[cue.lang];
    if (!turn || !words) return false;
    const events: ShapeEvents = {
      // Shut after a yes is no close: it was used.
      closed: quiet(() => world.finish(cue, given.has(cue.id) ? 'clicked' : 'closed')),
      gave: quiet(() => {
        if (given.has(cue.id)) return;
        given.add(cue.id);
        world.note({ callout: cue.id, what: 'click' });
        world.signals.add('clicked', cue.id);
        world.signals.flush();
      }),
      clicked: quiet(() => world.finish(cue, 'clicked')),
      hold: quiet(() => world.hover(cue, true)),
      release: quiet(() => world.hover(cue, false)),
    };
    const draw = cue.shape === 'Bubble' ? greet() : (more?.draw ?? (needsMore(cue) ? undefined : showSlip));
    const shown = draw?.(cue, turn, words, world.clear, events);
    if (!shown) return false;
    if (cue.ask) ask?.(shown.element, cue, events);
    shown.element.dataset.id = cue.id;
    const takesPlace = !asked && cue.shape !== 'Inset';
    if (isFirst) world.note({ callout: cue.id, what: takesPlace ? 'start' : 'ask' });
    const undo = isFirst ? whenSeen(shown.element, () => world.signals.add('shown', cue.id)) : () => {};
    onScreen.set(cue.id, { ...shown, undo, takesPlace });
    return true;
  }

  function end(cue: Cue, by: EndedBy) {
    takeOff(cue.id);
    // What it came to was told when they gave it.
    if (given.has(cue.id)) return;
    if (by === 'closed')
      world.note({
        callout: cue.id,
        what: 'close',
        hushMs: cue.hushMs,
        dialog: cue.shape === 'Poster' || cue.shape === 'Curtain',
      });
    else if (by === 'clicked') world.note({ callout: cue.id, what: 'click' });
    if (by === 'closed' || by === 'clicked') world.signals.add(by, cue.id);
    if (by === 'clicked') world.signals.flush();
  }

  function takeOff(id: string) {
    const shown = onScreen.get(id);
    onScreen.delete(id);
    // What was asked for leaves no gap behind, nor does what stands in the page's own content.
    if (shown?.takesPlace) world.note({ callout: id, what: 'end' });
    shown?.undo();
    shown?.remove();
  }

  return {
    ready,
    start,
    end,
    clear() {
      gone = true;
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
