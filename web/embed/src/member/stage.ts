import type { Stage } from '../core/types';

/** What a page builds after it was read is there by then. */
const BUILT_MS = 1_500;

let timer: ReturnType<typeof setTimeout> | undefined;

/** Tells the desk around this page what became of its draft: at once, and again once the page had time to build itself. */
export function tellDesk(stage: Stage, desk: string) {
  const tell = (missing: string[]) => parent.postMessage({ outcry: 'staged', note: stage.note, lifted: stage.lifted, missing }, desk);
  clearTimeout(timer);
  tell([]);
  if (stage.needs.length > 0) timer = setTimeout(() => tell(missingOf(stage)), BUILT_MS);
}

function missingOf({ needs }: Stage): string[] {
  return needs.filter(({ selector }) => !isThere(selector)).map((n) => n.says);
}

function isThere(selector: string): boolean {
  try {
    return document.querySelector(selector) !== null;
  } catch {
    // What the browser cannot read as a selector is not there; the brief says so, too.
    return false;
  }
}
