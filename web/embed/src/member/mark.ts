import type { Mark } from '../core/types';
import type { Kit } from '../draw/kit';
import styles from './mark.css?inline';
import { showPanel } from './panel';

const SEEN = 'outcry.mark';

/** Which trial visit is being walked, and on which page. */
export interface Walk {
  site: string;
  page: string;
  token: string | undefined;
}

/** Shows the private note, or on a trial visit its panel. */
export function showMark(kit: Kit, mark: Mark, desk: string, walk: Walk) {
  if (!mark.trial) return showNote(kit, mark);
  showPanel(
    { kit, tell: (selector, label, matches) => tell(desk, { ...walk, selector, label, matches }), end: () => end(walk.site) },
    mark.trial,
  );
}

async function tell(desk: string, body: unknown): Promise<boolean> {
  try {
    const headers = { 'content-type': 'text/plain' };
    return (await fetch(`${desk}/v/points`, { method: 'POST', headers, credentials: 'omit', body: JSON.stringify(body) })).ok;
  } catch {
    return false;
  }
}

function end(site: string) {
  for (const name of ['outcry.stage', `outcry.${site}`]) sessionStorage.removeItem(name);
  location.reload();
}

/** Shows a member's own browser that the site is connected; visitors never get one. Closed, it stays away for this tab. */
function showNote({ make, button, styledRoot }: Kit, mark: Mark) {
  document.querySelector('outcry-mark')?.remove();
  try {
    if (sessionStorage.getItem(SEEN)) return;
  } catch {
    // Storage refused: the mark is simply shown each time.
  }
  const host = document.createElement('outcry-mark');
  const list = make('ul', '', ...mark.lines.map((line) => make('li', '', line)));
  const close = button('close', 'Close this private note', '×');
  const panel = make('aside', 'mark', make('p', '', mark.title), list);
  if (mark.next) {
    const next = make('a', 'next', mark.next.words);
    next.href = mark.next.address;
    next.target = '_blank';
    next.rel = 'noopener';
    panel.append(next);
  }
  panel.append(close);
  panel.setAttribute('aria-label', 'Private note');
  close.addEventListener('click', () => {
    host.remove();
    try {
      sessionStorage.setItem(SEEN, '1');
    } catch {
      // As above.
    }
  });
  styledRoot(host, styles).append(panel);
  document.documentElement.append(host);
}
