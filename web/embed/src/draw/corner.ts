import { doc } from '../core/bare';

const EDGE_PX = 16;
const CLEAR_PX = 12;

/**
 * How far from its edge a box must stand so that it covers nothing that the page keeps there.
 *
 * Kept are fixed and sticky elements, those that the page marks with `data-outcry-keep`, those of the selector `clear`,
 * and what of ours is there already. A box that reaches from side to side stands at the very edge if it can.
 *
 * @returns CSS pixels; `undefined` when the screen has no room left beside what is kept there.
 */
export function edgeOffset(box: HTMLElement, top: boolean, clear: string, least = EDGE_PX): number | undefined {
  const { left, right, height, width } = box.getBoundingClientRect();
  let offset = width >= doc.documentElement.clientWidth - 1 ? 0 : least;
  // Each round may run into one more element beyond the last; an edge holds few.
  for (let round = 0; round < 6; round++) {
    const from = top ? offset : innerHeight - offset - height;
    const blocker = keptIn(left, from, right, from + height, box, clear);
    if (!blocker) return from >= 0 && from + height <= innerHeight ? offset : undefined;
    const kept = blocker.getBoundingClientRect();
    offset = (top ? kept.bottom : innerHeight - kept.top) + CLEAR_PX;
  }
  return undefined;
}

function keptIn(left: number, top: number, right: number, bottom: number, box: HTMLElement, clear: string): Element | undefined {
  for (const ours of box.parentElement?.children ?? [])
    if (ours !== box && overlaps(ours.getBoundingClientRect(), left, top, right, bottom)) return ours;
  const host = (box.getRootNode() as ShadowRoot).host;
  for (const x of [left + 4, (left + right) / 2, right - 4])
    for (const y of [top + 4, (top + bottom) / 2, bottom - 4])
      for (const hit of doc.elementsFromPoint(x, y)) {
        const kept = hit === host ? undefined : keptAncestor(hit, clear);
        // A backdrop over the whole view keeps no corner.
        if (kept && kept.getBoundingClientRect().height < innerHeight / 2) return kept;
      }
  return undefined;
}

const overlaps = (r: DOMRect, left: number, top: number, right: number, bottom: number) =>
  r.left < right && r.right > left && r.top < bottom && r.bottom > top;

function keptAncestor(element: Element, clear: string): Element | undefined {
  for (let at: Element | null = element; at && at !== doc.body; at = at.parentElement)
    if (at.matches(clear) || ['fixed', 'sticky'].includes(getComputedStyle(at).position)) return at;
  return undefined;
}
