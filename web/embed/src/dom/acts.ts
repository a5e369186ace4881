import type { Hold } from '../model/queue';
import type { Act } from '../model/triggers';
import type { Cue, Rules } from '../model/types';
import { doc, quiet } from './bare';

/** What the page's own doings are told to. */
export interface ActListener {
  act(act: Act): void;
  hold(what: Hold, open: boolean): void;
  /** The page changed. */
  changed(): void;
}

/** Scrolling up by half a screen within this time is a flick. */
const FLICK_MS = 300;
/** Mutations of the page are looked at this often at most. */
const LOOK_EVERY_MS = 50;

/** What the page itself marks, whatever the house rules say. */
export const MARKED = {
  consent: '[data-outcry-consent]',
  chat: '[data-outcry-hold=chat]',
  dialog: 'dialog[open],[data-outcry-hold]:not([data-outcry-hold=chat])',
};

/** Watches the page for what the cues wait for, and for what holds them up. Every listener has its undo. */
export function watchActs(cues: readonly Cue[], rules: Rules, tell: ActListener): () => void {
  const ending = new AbortController();
  const on = (target: EventTarget, type: string, listener: (event: never) => void) =>
    target.addEventListener(type, quiet(listener as EventListener), { capture: true, passive: true, signal: ending.signal });
  const triggers = cues.flatMap((c) => c.triggers ?? []);
  const wants = (k: string) => triggers.some((t) => t.k === k);
  const targets = (k: string) => [...new Set(triggers.filter((t) => t.k === k).map((t) => t.t ?? ''))];
  const undo = [() => ending.abort(), watchHolds(rules, tell)];

  if (wants('Scroll') || wants('Leaving')) watchScroll(on, tell);
  if (wants('Leaving'))
    on(doc, 'mouseout', (e: MouseEvent) => {
      if (!e.relatedTarget && e.clientY <= 0) tell.act({ k: 'PointerOut' });
    });
  if (wants('Idle')) for (const type of ['pointermove', 'pointerdown', 'keydown', 'scroll']) on(doc, type, () => tell.act({ k: 'Move' }));
  if (wants('Click'))
    on(doc, 'click', (e: MouseEvent) => {
      for (const t of targets('Click')) if (closest(e.target, t)) tell.act({ k: 'Click', t });
    });
  return () => {
    for (const end of undo) end();
  };
}

type On = (target: EventTarget, type: string, listener: (event: never) => void) => void;

// A selector that a page's author mistyped must not break the page.
export function closest(target: EventTarget | null, selector: string): Element | null {
  try {
    return target instanceof Element ? target.closest(selector) : null;
  } catch {
    return null;
  }
}

export function query(selector: string): Element | null {
  try {
    return doc.querySelector(selector);
  } catch {
    return null;
  }
}

/** Those of some selectors that can be read, as one; a mistyped one must not silence the others. */
export const readable = (...selectors: (string | undefined)[]): string =>
  selectors
    .filter((s) => {
      try {
        return s && doc.querySelector(s) !== undefined;
      } catch {
        return false;
      }
    })
    .join();

/** How far the page is scrolled, in whole percent of its length. */
export const scrolled = () => Math.floor(((scrollY + innerHeight) / Math.max(1, doc.documentElement.scrollHeight)) * 100);

function watchScroll(on: On, tell: ActListener) {
  let trail: [at: number, y: number][] = [];
  on(doc, 'scroll', () => {
    const now = performance.now();
    tell.act({ k: 'Scroll', n: scrolled() });
    trail = [...trail.filter(([at]) => now - at <= FLICK_MS), [now, scrollY]];
    if (Math.max(...trail.map(([, y]) => y)) - scrollY >= innerHeight / 2) {
      trail = [];
      tell.act({ k: 'FlickUp' });
    }
  });
  // A page shorter than the view cannot be scrolled; any other sign of interest counts as having seen it all.
  for (const type of ['pointerdown', 'keydown'])
    on(doc, type, () => {
      if (doc.documentElement.scrollHeight <= innerHeight) tell.act({ k: 'Scroll', n: 100 });
    });
}

// A consent notice, a chat, a dialog of the page's own: seen by what stands in the page, looked at when it changes.
function watchHolds(rules: Rules, tell: ActListener): () => void {
  const selectors: [Hold, string][] = [
    ['consent', readable(MARKED.consent, rules.consent)],
    ['chat', MARKED.chat],
    ['dialog', MARKED.dialog],
  ];
  let timer: ReturnType<typeof setTimeout> | undefined;
  let again = false;
  const look = quiet(() => {
    for (const [what, selector] of selectors) tell.hold(what, isShown(query(selector)));
    tell.changed();
  });
  const changed = () => {
    if (timer !== undefined) {
      again = true;
      return;
    }
    look();
    timer = setTimeout(() => {
      timer = undefined;
      if (again) {
        again = false;
        changed();
      }
    }, LOOK_EVERY_MS);
  };
  const observer = new MutationObserver(changed);
  observer.observe(doc.documentElement, {
    subtree: true,
    childList: true,
    attributes: true,
    attributeFilter: ['open', 'hidden', 'class', 'style', 'data-outcry-hold', 'data-outcry-consent'],
  });
  look();
  return () => {
    clearTimeout(timer);
    observer.disconnect();
  };
}

/** Whether an element has a place on the page. */
export const isShown = (element: Element | null) => !!element?.getClientRects().length;
