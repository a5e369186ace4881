import type { Trial, TrialItem } from '../core/types';
import type { Kit } from '../draw/kit';
import styles from './panel.css?inline';
import { pointAt } from './point';

/** What the panel needs of the world around it. */
export interface PanelWorld {
  kit: Kit;
  /** Tells the desk of an element that was pointed at; false when it could not. */
  tell(selector: string, label: string, matches: number): Promise<boolean>;
  /** Ends the trial visit in this tab. */
  end(): void;
}

const FOLDED = 'outcry.panel';

/** Shows what will show on this page, when, and why the rest will not, to whoever walks the trial visit; the page is left alone. */
export function showPanel({ kit, tell, end }: PanelWorld, trial: Trial) {
  const { make, button, styledRoot } = kit;
  document.querySelector('outcry-trial')?.remove();
  const host = document.createElement('outcry-trial');
  const panel = make('aside', 'trial');
  panel.setAttribute('aria-label', 'Trial visit, seen by you alone');
  const fold = button('fold', 'Fold this panel', '–');
  const title = make('p', 'title', make('b', '', 'Trial visit'), ' ', make('span', '', trial.who));
  const clock = make('span', 'clock', '0:00');
  const head = make('div', 'head', title, clock, fold);
  const rows = trial.items.map((item) => ({ item, row: rowOf(kit, item) }));
  const shown = rows.filter((r) => r.item.shows).map((r) => r.row);
  const silent = rows.filter((r) => !r.item.shows).map((r) => r.row);
  const body = make(
    'div',
    'lists',
    make('p', 'note', trial.lifted ? 'Caps, hush and least numbers are lifted. Nothing is counted.' : 'Nothing you do here is counted.'),
    list(kit, 'Will show', shown, 'Nothing will show on this page.'),
    list(kit, 'Will not show, and why', silent, 'Everything may show here.'),
  );
  const point = button('act', 'Point at an element');
  const leave = button('act', 'End the trial visit');
  const said = make('p', 'said');
  said.setAttribute('role', 'status');
  panel.append(head, body, make('div', 'acts', point, leave), said);
  styledRoot(host, styles).append(panel);
  document.documentElement.append(host);

  const setFolded = (folded: boolean) => {
    panel.classList.toggle('folded', folded);
    fold.textContent = folded ? '+' : '–';
    fold.setAttribute('aria-label', folded ? 'Unfold this panel' : 'Fold this panel');
    fold.setAttribute('aria-expanded', String(!folded));
    try {
      sessionStorage.setItem(FOLDED, folded ? '1' : '');
    } catch {
      // Refused: it is unfolded again on the next page.
    }
  };
  fold.addEventListener('click', () => setFolded(!panel.classList.contains('folded')));
  try {
    if (sessionStorage.getItem(FOLDED)) setFolded(true);
  } catch {
    // As above.
  }
  leave.addEventListener('click', () => {
    stop();
    host.remove();
    end();
  });
  point.addEventListener('click', () => {
    said.textContent = 'Point at an element and click it. Escape ends it.';
    pointAt(host, async (picked) => {
      if (!picked) {
        said.textContent = '';
        return;
      }
      const went = await tell(picked.selector, picked.label, picked.matches);
      said.textContent = went
        ? `${picked.selector}${picked.matches > 1 ? `, one of ${picked.matches} alike,` : ''} is at the desk now: choose it in a brief as a trigger or a place, or in the house rules to keep clear of.`
        : 'The desk could not be told. The trial visit may be over: open a new one.';
    });
  });

  // The page's own clock, which the plan goes by: it stands still while the tab is hidden.
  let visibleMs = 0;
  let last = performance.now();
  const timer = setInterval(() => {
    const now = performance.now();
    if (!document.hidden) visibleMs += now - last;
    last = now;
    clock.textContent = pageClock(visibleMs);
    const onScreen = idsOnScreen();
    for (const { item, row } of rows) {
      const isOn = onScreen.has(item.id);
      if (isOn === row.classList.contains('on')) continue;
      row.classList.add('was');
      row.classList.toggle('on', isOn);
      row.querySelector('b')?.replaceChildren(isOn ? ', on screen now' : ', was shown');
    }
    if (Date.now() > trial.until) said.textContent = 'The link of this trial visit has run out. Open a new one at the desk.';
  }, 250);
  const stop = () => clearInterval(timer);
}

function rowOf({ make }: Kit, item: TrialItem): HTMLElement {
  const link = make('a', '', item.name);
  link.href = item.address;
  link.target = '_blank';
  link.rel = 'noopener';
  return make('li', item.shows ? 'shows' : '', link, make('span', '', item.says, make('b', '')));
}

function list({ make }: Kit, title: string, rows: HTMLElement[], none: string): HTMLElement {
  return make(
    'section',
    '',
    make('h2', '', `${title} `, make('small', '', String(rows.length))),
    rows.length > 0 ? make('ul', '', ...rows) : make('p', 'note', none),
  );
}

/** Which callouts are on screen now, wherever their shape is drawn. */
function idsOnScreen(): Set<string> {
  const ids = new Set<string>();
  for (const host of document.querySelectorAll('outcry-callouts, outcry-dialog, outcry-inset'))
    for (const drawn of host.shadowRoot?.querySelectorAll<HTMLElement>('[data-id]') ?? []) ids.add(drawn.dataset.id ?? '');
  return ids;
}

function pageClock(ms: number): string {
  const seconds = Math.floor(ms / 1000);
  return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`;
}
