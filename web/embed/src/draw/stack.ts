import type { Drawn } from '../core/drawing';
import { PHONE_PX } from './slip';

/** Between two cards that are out, and how far one looks out from behind the next, in CSS pixels. */
const BETWEEN_PX = 8;

/**
 * Lets the cards of one corner stand behind one another, the newest in front, until the pointer or the focus is on one of them.
 *
 * A card knows nothing of it: it comes and goes as the queue says, and whoever is left closes up.
 *
 * @returns what shows a card as if its corner were empty: it will stand before those that are there, not above them.
 */
export function stackCards(
  openRegion: () => HTMLElement,
  quiet: <A extends unknown[]>(work: (...told: A) => void) => (...told: A) => void,
) {
  let watched: HTMLElement | undefined;
  const told = new WeakSet<HTMLElement>();
  const isOut = (cards: readonly HTMLElement[]) => cards.some((card) => card.matches(':hover, :focus-within'));

  function corners(region: HTMLElement): HTMLElement[][] {
    const byCorner = new Map<string, HTMLElement[]>();
    for (const card of region.querySelectorAll<HTMLElement>(':scope > .slip')) {
      // On a phone a card reaches from side to side.
      const side = innerWidth < PHONE_PX || card.classList.contains('left') ? 'left' : 'right';
      const corner = side + (card.style.top ? 'top' : '');
      byCorner.set(corner, [...(byCorner.get(corner) ?? []), card]);
    }
    return [...byCorner.values()];
  }

  function arrange(cards: readonly HTMLElement[]) {
    const front = cards[cards.length - 1];
    if (!front) return;
    const out = cards.length > 1 && isOut(cards);
    for (const card of cards) card.classList.remove('behind');
    const heights = cards.map((card) => card.offsetHeight);
    const edge = front.style.top ? 'top' : 'bottom';
    let sum = 0;
    for (let depth = 0; depth < cards.length; depth++) {
      const at = cards.length - 1 - depth;
      const card = cards[at] as HTMLElement;
      card.style[edge] = front.style[edge];
      card.style.zIndex = String(at);
      for (const [name, value] of [
        ['out', `${sum}px`],
        ['depth', String(depth)],
        ['front', `${front.offsetHeight}px`],
      ])
        card.style.setProperty(`--${name}`, value as string);
      card.classList.toggle('behind', depth > 0);
      card.classList.toggle('out', out);
      card.classList.toggle('up', edge === 'bottom');
      sum += (heights[at] ?? 0) + BETWEEN_PX;
      if (told.has(card)) continue;
      told.add(card);
      // The focus is nowhere while it goes from one to the next.
      for (const type of ['pointerenter', 'pointerleave', 'focusin', 'focusout'])
        card.addEventListener(type, () => requestAnimationFrame(quiet(turn)));
    }
  }

  // Only what is out or not may have changed: nothing is measured while the pointer moves.
  function turn() {
    if (!watched) return;
    for (const cards of corners(watched)) {
      const out = cards.length > 1 && isOut(cards);
      for (const card of cards) card.classList.toggle('out', out);
    }
  }

  return (show: () => Drawn | undefined): Drawn | undefined => {
    const region = openRegion();
    if (watched !== region) {
      watched = region;
      new MutationObserver(quiet(() => corners(region).forEach(arrange))).observe(region, { childList: true });
    }
    const there = [...region.querySelectorAll<HTMLElement>(':scope > .slip')];
    // Out of the way while room is sought: by a transform, which takes neither focus nor place of reading from anybody.
    for (const card of there) card.style.transform = 'translateX(-300vw)';
    try {
      return show();
    } finally {
      for (const card of there) card.style.transform = '';
    }
  };
}
