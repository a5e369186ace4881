import { closest, scrolled } from '../core/acts';
import { doc, quiet } from '../core/bare';
import type { Act } from '../core/triggers';
import type { Cue } from '../core/types';

/** Scrolling up by half a screen within this time is a flick. */
const FLICK_MS = 300;

type On = (target: EventTarget, type: string, listener: (event: never) => void) => void;

/** Watches the page for what the cues wait for. */
export function watchActs(cues: readonly Cue[], tell: (act: Act) => void): () => void {
  const ending = new AbortController();
  const on: On = (target, type, listener) =>
    target.addEventListener(type, quiet(listener as EventListener), { capture: true, passive: true, signal: ending.signal });
  const triggers = cues.flatMap((c) => c.triggers ?? []);
  const wants = (k: string) => triggers.some((t) => t.k === k);
  const targets = (k: string) => [...new Set(triggers.filter((t) => t.k === k).map((t) => t.t ?? ''))];

  if (wants('Scroll') || wants('Leaving')) watchScroll(on, tell);
  if (wants('Leaving'))
    on(doc, 'mouseout', (e: MouseEvent) => {
      if (!e.relatedTarget && e.clientY <= 0) tell({ k: 'PointerOut' });
    });
  if (wants('Idle')) for (const type of ['pointermove', 'pointerdown', 'keydown', 'scroll']) on(doc, type, () => tell({ k: 'Move' }));
  if (wants('Click'))
    on(doc, 'click', (e: MouseEvent) => {
      for (const t of targets('Click')) if (closest(e.target, t)) tell({ k: 'Click', t });
    });
  return () => ending.abort();
}

function watchScroll(on: On, tell: (act: Act) => void) {
  let trail: [at: number, y: number][] = [];
  on(doc, 'scroll', () => {
    const now = performance.now();
    tell({ k: 'Scroll', n: scrolled() });
    trail = [...trail.filter(([at]) => now - at <= FLICK_MS), [now, scrollY]];
    if (Math.max(...trail.map(([, y]) => y)) - scrollY >= innerHeight / 2) {
      trail = [];
      tell({ k: 'FlickUp' });
    }
  });
  // A page shorter than the view cannot be scrolled; any other sign of interest counts as having seen it all.
  for (const type of ['pointerdown', 'keydown'])
    on(doc, type, () => {
      if (doc.documentElement.scrollHeight <= innerHeight) tell({ k: 'Scroll', n: 100 });
    });
}
