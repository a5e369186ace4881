import type { Face } from '../core/types';

/** How something looks: colours, letters, corners. */
interface Looks {
  band: string;
  bandInk: string;
  ground: string;
  ink: string;
  face?: Face;
  corner?: number;
}

const FACES: Record<Face, string> = {
  Sans: 'system-ui,sans-serif',
  Serif: 'ui-serif,Georgia,serif',
  Mono: 'ui-monospace,monospace',
};

/** Puts its looks on an element, for the style sheet to take them. */
export function dress(element: HTMLElement, { band, bandInk, ground, ink, face, corner }: Looks) {
  const { style } = element;
  const all = { band, 'band-ink': bandInk, ground, ink, ...(corner !== undefined && { corner: `${corner}px` }) };
  for (const [name, value] of Object.entries(all)) style.setProperty(`--${name}`, value);
  if (face) style.fontFamily = FACES[face];
}
