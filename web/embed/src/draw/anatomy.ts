import { doc } from '../core/bare';
import type { ShapeEvents } from '../core/drawing';
import type { Cue, Span, Turn, Words } from '../core/types';
import { dress } from './dress';

/** A small element with a class, a text and children. */
export function make<K extends keyof HTMLElementTagNameMap>(
  tag: K,
  className: string,
  ...children: (Node | string)[]
): HTMLElementTagNameMap[K] {
  const element = doc.createElement(tag);
  element.className = className;
  element.append(...children);
  return element;
}

/** A button with its words or its sign. */
export function button(className: string, label: string, ...children: (Node | string)[]): HTMLButtonElement {
  const element = make('button', className, ...(children.length > 0 ? children : [label]));
  element.type = 'button';
  if (children.length > 0) element.setAttribute('aria-label', label);
  return element;
}

const RESTS = [
  ['pointerenter', 'pointer', true],
  ['pointerleave', 'pointer', false],
  ['focusin', 'focus', true],
  ['focusout', 'focus', false],
] as const;

/** Puts what all shapes share into a box: colours and language, picture, words, action, the line below, the close mark. */
export function fill(box: HTMLElement, cue: Cue, turn: Turn, words: Words, on: ShapeEvents) {
  box.dir = cue.rtl ? 'rtl' : 'ltr';
  box.lang = cue.lang;
  dress(box, cue);
  box.append(...inside(cue, turn, words));
  if (cue.closeMark) {
    const close = button('close', words.close, cross());
    close.addEventListener('click', () => on.closed());
    box.append(close);
    box.addEventListener('keydown', (event) => {
      if (event.key === 'Escape') on.closed();
    });
  }
  box.addEventListener('click', (event) => {
    if ((event.composedPath()[0] as Element | undefined)?.closest?.('a')) on.clicked();
  });
  rests(box, on);
}

/** Tells while the pointer or the focus is on a box. */
export function rests(box: HTMLElement, on: ShapeEvents) {
  // Either of the two holds the stay: it runs on once both are gone.
  const rests = { pointer: false, focus: false };
  for (const [type, what, begins] of RESTS)
    box.addEventListener(type, () => {
      rests[what] = begins;
      if (rests.pointer || rests.focus) on.hold();
      else on.release();
    });
}

/** Everything said, but for the close mark. */
export function inside(cue: Cue, turn: Turn, words: Words): HTMLElement[] {
  // With a button, it alone is the link; without one, all of what is said.
  const whole = turn.link && !turn.button;
  const body = whole && turn.link ? link(turn.link, cue.newTab, 'body') : make('div', 'body');
  if (cue.framed) body.append(picture(turn));
  const says = make('div', 'text', make('p', 'says', ...turn.spans.map((s) => span(s, !whole))));
  if (turn.detail) says.append(make('p', 'detail', ...turn.detail.map((s) => span(s, !whole))));
  body.append(says);
  const parts = [body];
  if (turn.link && turn.button) {
    const action = link(turn.link, cue.newTab, 'action');
    action.append(turn.button);
    parts.push(make('div', 'act', action));
  }
  return [...parts, foot(cue, turn, words)];
}

function foot({ drawn }: Cue, turn: Turn, words: Words): HTMLElement {
  const why = button('why', words.why);
  why.setAttribute('aria-expanded', 'false');
  const answer = make('p', 'answer', drawn ? words.whyEvents : words.whyNotice);
  answer.hidden = true;
  why.addEventListener('click', () => {
    answer.hidden = !answer.hidden;
    why.setAttribute('aria-expanded', String(!answer.hidden));
  });
  return make('div', 'foot', make('div', 'meta', make('span', 'when', turn.meta ?? ''), why), answer);
}

// Everything said arrives as runs of text, so nothing a name or a product contains can become markup.
export function span({ t, b, i, u, h }: Span, mayLink: boolean): Node {
  let node: Node = doc.createTextNode(t);
  if (i) node = make('em', '', node);
  if (b) node = make('strong', '', node);
  if (u) node = make('u', '', node);
  if (h && mayLink) {
    const anchor = link(h, false, '');
    anchor.append(node);
    node = anchor;
  }
  return node;
}

export function link(href: string, newTab: boolean | undefined, className: string): HTMLAnchorElement {
  const anchor = make('a', className);
  anchor.href = href;
  if (newTab) {
    anchor.target = '_blank';
    anchor.rel = 'noopener';
  }
  return anchor;
}

function picture(turn: Turn): HTMLElement {
  const frame = make('span', 'picture', turn.initials ?? '');
  frame.setAttribute('aria-hidden', 'true');
  if (!turn.initials) frame.classList.add('plain');
  if (!turn.picture) return frame;
  const image = doc.createElement('img');
  image.alt = '';
  image.width = image.height = 44;
  image.src = turn.picture;
  image.addEventListener('load', () => frame.replaceChildren(image));
  return frame;
}

export function cross(): SVGElement {
  const namespace = 'http://www.w3.org/2000/svg';
  const svg = doc.createElementNS(namespace, 'svg');
  svg.setAttribute('viewBox', '0 0 10 10');
  svg.setAttribute('aria-hidden', 'true');
  const path = doc.createElementNS(namespace, 'path');
  path.setAttribute('d', 'M1 1l8 8M9 1L1 9');
  svg.append(path);
  return svg;
}
