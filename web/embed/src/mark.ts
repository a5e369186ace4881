import type { Kit } from './dom/kit';
import styles from './mark.css?inline';

const SEEN = 'outcry.mark';

/** What the private note says, and where it leads on. */
export interface Mark {
  title: string;
  lines: string[];
  next?: { words: string; address: string };
}

/** Shows a member's own browser that the site is connected; visitors never get one. Closed, it stays away for this tab. */
export function showMark({ make, button, styledRoot }: Kit, mark: Mark) {
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
  document.body.append(host);
}
