import type { Draw, Drawn, ShapeEvents } from '../core/drawing';
import type { Cue, Turn, Words } from '../core/types';
import type { Kit } from './kit';
import styles from './shapes.css?inline';
import { stackCards } from './stack';

/**
 * Makes what draws every shape, and what a slip may have besides: a countdown, a code to copy.
 *
 * It works with the pieces of the file before it, so that both draw into one and the same root.
 */
export function makeDraw({
  doc,
  make,
  button,
  fill,
  inside,
  openRoot,
  query,
  quiet,
  styledRoot,
  place,
  settle,
  showSlip,
  isAtTop,
  openRegion,
}: Kit): Draw {
  const stack = stackCards(openRegion, quiet);

  /** Draws every shape, and what a slip may have besides: a countdown, a code to copy. */
  const draw: Draw = (cue, turn, words, clear, on) => {
    addStyles();
    const shown = shape(cue, turn, words, clear, on);
    if (!shown) return undefined;
    if (cue.backdrop) putBehind(shown.element, cue.backdrop);
    const undo = [countDown(shown.element, turn, words)];
    if (cue.code) addCode(shown.element, cue.code, words);
    return {
      element: shown.element,
      remove() {
        for (const end of undo) end();
        shown.remove();
      },
    };
  };

  /** A picture behind all that is said, which keeps its own ground in front of it. */
  function putBehind(box: HTMLElement, address: string) {
    const image = make('img', 'behind-all');
    image.alt = '';
    image.src = address;
    const sheet = make('div', 'sheet');
    sheet.append(...[...box.children].filter((c) => !c.matches('.close')));
    box.classList.add('backed');
    box.prepend(image, sheet);
  }

  function shape(cue: Cue, turn: Turn, words: Words, clear: string, on: ShapeEvents): Drawn | undefined {
    switch (cue.shape) {
      case 'Slip':
        return stack(() => showSlip(cue, turn, words, clear, on));
      case 'Poster':
      case 'Curtain':
        return showDialog(cue, turn, words, on);
      case 'Inset':
        return showInset(cue, turn, words, on);
      case 'Crawl':
        return showCrawl(cue, words, clear, on);
      default:
        return showAlongEdge(cue, turn, words, clear, on);
    }
  }

  // The shapes' own styles join those of the shared root before the first of them is drawn: what is measured must have them.
  function addStyles() {
    const root = openRoot();
    if (root.adoptedStyleSheets.length > 1) return;
    const sheet = new CSSStyleSheet();
    sheet.replaceSync(styles);
    root.adoptedStyleSheets.push(sheet);
  }

  function showAlongEdge(cue: Cue, turn: Turn, words: Words, clear: string, on: ShapeEvents): Drawn | undefined {
    const kind = cue.shape.toLowerCase();
    const top = isAtTop(cue);
    const box = make('div', `${kind} ${cue.shape === 'Drawer' ? cue.side.toLowerCase() : top ? 'top' : 'bottom'}`);
    fill(box, cue, turn, words, on);
    // A drawer stands along a whole side, where nothing else can.
    return cue.shape === 'Drawer' ? place(box) : settle(box, top, clear);
  }

  /** A dialog takes the focus and gives it back; the browser itself keeps it inside and the page behind it still. */
  function showDialog(cue: Cue, turn: Turn, words: Words, on: ShapeEvents): Drawn | undefined {
    const host = doc.createElement('outcry-dialog');
    const root = styledRoot(host, styles);
    const dialog = make('dialog', cue.shape.toLowerCase());
    dialog.setAttribute('aria-label', turn.spans.map((s) => s.t).join(''));
    fill(dialog, cue, turn, words, on);
    root.append(dialog);
    doc.documentElement.append(host);
    const before = doc.activeElement;
    dialog.showModal();
    dialog.addEventListener('cancel', (event) => {
      event.preventDefault();
      on.closed();
    });
    dialog.addEventListener('click', (event) => {
      if (event.target === dialog && isOutside(dialog, event)) on.closed();
    });
    return {
      element: dialog,
      remove() {
        dialog.close();
        host.remove();
        if (before instanceof HTMLElement) before.focus({ preventScroll: true });
      },
    };
  }

  function isOutside(dialog: HTMLElement, { clientX, clientY }: MouseEvent) {
    const { left, right, top, bottom } = dialog.getBoundingClientRect();
    return clientX < left || clientX > right || clientY < top || clientY > bottom;
  }

  const PLACES = { Before: 'beforebegin', First: 'afterbegin', Last: 'beforeend', After: 'afterend' } as const;

  /** In the page's own content, by an element that is there; nowhere else. */
  function showInset(cue: Cue, turn: Turn, words: Words, on: ShapeEvents): Drawn | undefined {
    const anchor = query(cue.anchor ?? '');
    if (!anchor) return undefined;
    const host = doc.createElement('outcry-inset');
    const box = make('section', 'inset');
    fill(box, cue, turn, words, on);
    styledRoot(host, styles).append(box);
    anchor.insertAdjacentElement(PLACES[cue.inset ?? 'After'], host);
    return { element: box, remove: () => host.remove() };
  }

  /** One line along an edge that turns over by itself, until somebody stops it. */
  function showCrawl(cue: Cue, words: Words, clear: string, on: ShapeEvents): Drawn | undefined {
    const lines = cue.lines ?? cue.turns;
    const [first] = lines;
    if (!first) return undefined;
    const top = isAtTop(cue);
    const box = make('div', `crawl ${top ? 'top' : 'bottom'}`);
    fill(box, cue, first, words, on);
    let timer: ReturnType<typeof setTimeout> | undefined;
    let place = 0;
    let paused = false;
    const close = box.querySelector('.close');
    const pause = button('pause', words.pause);

    function show(next: number) {
      place = next % lines.length;
      const line = lines[place];
      if (!line) return;
      // The first line is read out; a voice that goes on by itself all the time is one that nobody can work beside.
      box.setAttribute('aria-live', 'off');
      for (const old of [...box.children]) if (old !== close && old !== pause) old.remove();
      box.prepend(...inside(cue, line, words));
      turnOver();
    }
    function turnOver() {
      clearTimeout(timer);
      if (!paused && lines.length > 1) timer = setTimeout(() => show(place + 1), lines[place]?.stayMs ?? 7000);
    }
    pause.addEventListener('click', () => {
      paused = !paused;
      pause.textContent = paused ? words.play : words.pause;
      turnOver();
    });
    if (lines.length > 1) box.append(pause);
    const shown = settle(box, top, clear);
    if (!shown) return undefined;
    turnOver();
    return {
      element: box,
      remove() {
        clearTimeout(timer);
        shown.remove();
      },
    };
  }

  /** Lets the countdown in the words run; what it counts to is a moment, so that a slow page cannot make it longer. */
  function countDown(box: HTMLElement, { countdown, countdownTo }: Turn, words: Words): () => void {
    if (!countdown || countdownTo === undefined) return () => {};
    const walker = doc.createTreeWalker(box, NodeFilter.SHOW_TEXT);
    let node = walker.nextNode() as Text | null;
    while (node && !node.data.includes(countdown)) node = walker.nextNode() as Text | null;
    if (!node) return () => {};
    const [before = '', after = ''] = node.data.split(countdown);
    const running = make('span', 'countdown', countdown);
    // Read out once, not every second.
    running.setAttribute('role', 'timer');
    node.replaceWith(before, running, after);
    const tick = () => {
      running.textContent = clockWords(Math.max(0, countdownTo - Date.now()), words);
    };
    // The words were written when the plan was made, which may be minutes ago.
    tick();
    const timer = setInterval(quiet(tick), 1000);
    return () => clearInterval(timer);
  }

  function clockWords(leftMs: number, words: Words): string {
    const seconds = Math.ceil(leftMs / 1000);
    const two = (n: number) => String(n).padStart(2, '0');
    const clock = `${two(Math.floor(seconds / 3600) % 24)}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}`;
    const days = Math.floor(seconds / 86_400);
    return days === 0 ? clock : `${words.days.replace('{0}', String(days))} ${clock}`;
  }

  function addCode(box: HTMLElement, code: string, words: Words) {
    const copy = button('copy', words.copy);
    copy.addEventListener('click', () => {
      void navigator.clipboard?.writeText(code).then(
        () => {
          copy.textContent = words.copied;
        },
        () => {
          // Refused: the code itself can still be selected.
        },
      );
    });
    box.querySelector('.foot')?.before(make('div', 'code', make('code', '', code), copy));
  }

  return draw;
}
