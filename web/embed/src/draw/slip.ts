import type { Drawn, ShapeEvents } from '../core/drawing';
import type { Cue, Turn, Words } from '../core/types';
import { fill, make } from './anatomy';
import { edgeOffset } from './corner';
import { openRegion } from './root';

/** Under this width of the view a callout stands where it does on phones. */
export const PHONE_PX = 640;

/** Whether a callout stands at the top edge of this screen. */
export const isAtTop = (cue: Cue) => !!(innerWidth < PHONE_PX ? cue.phoneTop : cue.top);

/** Puts a slip on the screen; undefined when this screen has no room for it. */
export function showSlip(cue: Cue, turn: Turn, words: Words, clear: string, on: ShapeEvents): Drawn | undefined {
  const slip = make('div', `slip ${cue.side.toLowerCase()}`);
  fill(slip, cue, turn, words, on);
  return settle(slip, isAtTop(cue), clear);
}

/** Lets a box come in along an edge, clear of what the page keeps there and of what of ours is there already. */
export function settle(box: HTMLElement, top: boolean, clear: string): Drawn | undefined {
  openRegion().append(box);
  const offset = edgeOffset(box, top, clear);
  if (offset === undefined) {
    box.remove();
    return undefined;
  }
  box.style[top ? 'top' : 'bottom'] = `${offset}px`;
  return place(box);
}

/** Lets a box come in where its style puts it. */
export function place(box: HTMLElement): Drawn {
  if (!box.isConnected) openRegion().append(box);
  // A frame apart from the insertion, so that the browser has something to move from.
  requestAnimationFrame(() => box.classList.add('in'));
  return { element: box, remove: () => box.remove() };
}
