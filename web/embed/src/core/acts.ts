import { doc, quiet } from './bare';
import type { Hold } from './queue';
import type { Rules } from './types';

/** What is told of the page. */
export interface HoldListener {
  /** What holds everything up is seen on the page, or not. */
  see(what: Hold, open: boolean): void;
  /** The page changed. */
  changed(): void;
}

/** Mutations of the page are looked at this often at most. */
const LOOK_EVERY_MS = 50;

/** What the page itself marks, whatever the house rules say. */
export const MARKED = {
  consent: '[data-outcry-consent]',
  chat: '[data-outcry-hold=chat]',
  dialog: 'dialog[open],[data-outcry-hold]:not([data-outcry-hold=chat])',
};

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

/** Watches for a consent notice, a chat, a dialog of the page's own: seen by what stands in the page, looked at when it changes. */
export function watchHolds(rules: Rules, tell: HoldListener): () => void {
  const selectors: [Hold, string][] = [
    ['consent', readable(MARKED.consent, rules.consent)],
    ['chat', MARKED.chat],
    ['dialog', MARKED.dialog],
  ];
  let timer: ReturnType<typeof setTimeout> | undefined;
  let again = false;
  const look = quiet(() => {
    for (const [what, selector] of selectors) tell.see(what, [...doc.querySelectorAll(selector)].some(isShown));
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
