import { on, quiet } from './bare';

/** A single-page application writes its address many times while it settles; this long after the last time it is read. */
const SETTLED_MS = 300;

/**
 * Parameters of an address that may leave the browser: those of campaigns, and those that a rule of the site asks for,
 * whose names the desk writes in here as it serves this file. Any other may be a key to somebody's account.
 */
const ASKED = /^(utm_\w+|asked)(=|$)/i;

/** The page's address as far as it leaves the browser; `whole` keeps all of its query, as on a stage that only a member sees. */
export function readAddress(whole: boolean): string {
  const kept = location.search
    .slice(1)
    .split('&')
    .filter((part) => whole || ASKED.test(part))
    .join('&');
  return location.origin + location.pathname + (kept && '?') + kept;
}

/** Tells of route changes of single-page applications, which no event announces. */
export function watchRoutes(turned: () => void) {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const settle = () => {
    clearTimeout(timer);
    timer = setTimeout(quiet(turned), SETTLED_MS);
  };
  for (const name of ['pushState', 'replaceState'] as const) {
    const original = history[name];
    history[name] = function (...args: Parameters<History['pushState']>) {
      original.apply(this, args);
      settle();
    };
  }
  on('popstate', settle);
}

/**
 * The width of the view as far as devices are told apart by it: the lower limit in CSS pixels, 320 for a phone's.
 * Asked of media queries, since the width itself makes the browser lay the page out before its styles are there.
 */
export const viewWidth = () => [1024, 640].find((px) => matchMedia(`(min-width:${px}px)`).matches) ?? 320;
