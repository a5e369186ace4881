const EDGE_PX = 16;
const CLEAR_PX = 12;

/**
 * How far above the bottom edge a slip must stand so that it covers nothing that the page keeps in that corner.
 *
 * @returns CSS pixels; `undefined` when the screen has no room left above what is kept there.
 */
export function cornerOffset(slip: HTMLElement, ours: Element): number | undefined {
  const box = slip.getBoundingClientRect();
  let offset = EDGE_PX;
  // Each round may run into one more element above the last; a corner holds few.
  for (let round = 0; round < 5; round++) {
    const bottom = innerHeight - offset;
    const blocker = fixedElementIn(box.left, bottom - box.height, box.right, bottom, ours);
    if (!blocker) return bottom - box.height >= 0 ? offset : undefined;
    offset = innerHeight - blocker.getBoundingClientRect().top + CLEAR_PX;
  }
  return undefined;
}

function fixedElementIn(left: number, top: number, right: number, bottom: number, ours: Element): Element | undefined {
  for (const x of [left + 4, (left + right) / 2, right - 4])
    for (const y of [top + 4, (top + bottom) / 2, bottom - 4])
      for (const hit of document.elementsFromPoint(x, y)) {
        const fixed = hit === ours ? undefined : fixedAncestor(hit);
        // A backdrop over the whole view keeps no corner.
        if (fixed && fixed.getBoundingClientRect().height < innerHeight / 2) return fixed;
      }
  return undefined;
}

function fixedAncestor(element: Element): Element | undefined {
  for (let at: Element | null = element; at && at !== document.body; at = at.parentElement)
    if (['fixed', 'sticky'].includes(getComputedStyle(at).position)) return at;
  return undefined;
}
