import type { Cue, Span, Turn } from '../model/types';
import { cornerOffset } from './corner';
import styles from './slip.css?inline';

/** What a slip tells the page view. */
export interface SlipEvents {
  closed(): void;
  clicked(): void;
  hold(): void;
  release(): void;
}

let root: ShadowRoot | undefined;

/** The one shadow root in which everything of ours is drawn: fixed, so nothing of the page can move. */
export function openRoot(): ShadowRoot {
  if (root?.host.isConnected) return root;
  const host = document.createElement('outcry-callouts');
  root = host.attachShadow({ mode: 'open' });
  const sheet = new CSSStyleSheet();
  sheet.replaceSync(styles);
  root.adoptedStyleSheets = [sheet];
  document.body.append(host);
  return root;
}

/** A small element with a class, a text and children. */
export function make<K extends keyof HTMLElementTagNameMap>(
  tag: K,
  className: string,
  ...children: (Node | string)[]
): HTMLElementTagNameMap[K] {
  const element = document.createElement(tag);
  element.className = className;
  element.append(...children);
  return element;
}

/**
 * Puts a slip on the screen.
 *
 * @returns What takes it off again; `undefined` when this screen has no room for it.
 */
export function showSlip(cue: Cue, turn: Turn, on: SlipEvents): { element: HTMLElement; remove(): void } | undefined {
  const shadow = openRoot();
  let region = shadow.querySelector<HTMLElement>('.region');
  if (!region) {
    // The region must be there before its content, or screen readers stay silent.
    region = make('div', 'region');
    region.setAttribute('role', 'status');
    region.setAttribute('aria-live', 'polite');
    shadow.append(region);
  }
  const slip = draw(cue, turn, on);
  region.append(slip);
  const offset = cornerOffset(slip, shadow.host);
  if (offset === undefined) {
    slip.remove();
    return undefined;
  }
  slip.style.bottom = `${offset}px`;
  // A frame apart from the insertion, so that the browser has something to move from.
  requestAnimationFrame(() => slip.classList.add('in'));
  return { element: slip, remove: () => slip.remove() };
}

function draw(cue: Cue, turn: Turn, on: SlipEvents): HTMLElement {
  const slip = make('div', `slip ${cue.side === 'Right' ? 'right' : 'left'}`);
  slip.dir = getComputedStyle(document.documentElement).direction;
  for (const [name, value] of Object.entries({ band: cue.band, ground: cue.ground, ink: cue.ink }))
    slip.style.setProperty(`--${name}`, value);

  const says = make('p', 'says', ...turn.spans.map((s) => span(s, !turn.link)));
  const body = turn.link ? link(turn.link, cue.newTab, 'body') : make('div', 'body');
  if (cue.framed) body.append(picture(turn));
  body.append(says);
  slip.append(body, foot(turn));
  slip.addEventListener('click', (event) => {
    if ((event.composedPath()[0] as Element | undefined)?.closest?.('a')) on.clicked();
  });
  if (cue.closeMark) {
    const close = make('button', 'close', cross());
    close.type = 'button';
    close.setAttribute('aria-label', 'Close');
    close.addEventListener('click', () => on.closed());
    slip.append(close);
    slip.addEventListener('keydown', (event) => {
      if (event.key === 'Escape') on.closed();
    });
  }
  slip.addEventListener('pointerenter', () => on.hold());
  slip.addEventListener('pointerleave', () => on.release());
  slip.addEventListener('focusin', () => on.hold());
  slip.addEventListener('focusout', () => on.release());
  return slip;
}

function foot(turn: Turn): HTMLElement {
  const why = make('button', 'why', 'Why this?');
  why.type = 'button';
  why.setAttribute('aria-expanded', 'false');
  const answer = make('p', 'answer', 'This really happened on this site. Names are shortened. Close it and it stays quiet.');
  answer.hidden = true;
  why.addEventListener('click', () => {
    answer.hidden = !answer.hidden;
    why.setAttribute('aria-expanded', String(!answer.hidden));
  });
  return make('div', 'foot', make('div', 'meta', make('span', 'when', turn.meta), why), answer);
}

// Everything said arrives as runs of text, so nothing a name or a product contains can become markup.
function span({ t, b, i, h }: Span, mayLink: boolean): Node {
  let node: Node = document.createTextNode(t);
  if (i) node = make('em', '', node);
  if (b) node = make('strong', '', node);
  if (h && mayLink) {
    const anchor = link(h, false, '');
    anchor.append(node);
    node = anchor;
  }
  return node;
}

function link(href: string, newTab: boolean, className: string): HTMLAnchorElement {
  const anchor = make('a', className);
  anchor.href = href;
  if (newTab) {
    anchor.target = '_blank';
    anchor.rel = 'noopener';
  }
  return anchor;
}

function picture(turn: Turn): HTMLElement {
  const frame = make('span', 'picture', turn.initials);
  frame.setAttribute('aria-hidden', 'true');
  if (!turn.initials) frame.classList.add('plain');
  if (!turn.picture) return frame;
  const image = document.createElement('img');
  image.alt = '';
  image.width = image.height = 44;
  image.src = turn.picture;
  image.addEventListener('load', () => frame.replaceChildren(image));
  return frame;
}

function cross(): SVGElement {
  const namespace = 'http://www.w3.org/2000/svg';
  const svg = document.createElementNS(namespace, 'svg');
  svg.setAttribute('viewBox', '0 0 10 10');
  svg.setAttribute('aria-hidden', 'true');
  const path = document.createElementNS(namespace, 'path');
  path.setAttribute('d', 'M1 1l8 8M9 1L1 9');
  svg.append(path);
  return svg;
}
