import { make, openRoot } from './slip';

const SEEN = 'outcry.mark';

/** Shows a member's own browser that the site is connected; visitors never get one. Closed, it stays away for this tab. */
export function showMark(mark: { title: string; lines: string[]; next?: { words: string; address: string } }) {
  const shadow = openRoot();
  shadow.querySelector('.mark')?.remove();
  try {
    if (sessionStorage.getItem(SEEN)) return;
  } catch {
    // Storage refused: the mark is simply shown each time.
  }
  const list = make('ul', '', ...mark.lines.map((line) => make('li', '', line)));
  const close = make('button', 'close', '×');
  close.type = 'button';
  close.setAttribute('aria-label', 'Close this private note');
  const panel = make('aside', 'mark in', make('p', '', mark.title), list);
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
    panel.remove();
    try {
      sessionStorage.setItem(SEEN, '1');
    } catch {
      // As above.
    }
  });
  shadow.append(panel);
}
