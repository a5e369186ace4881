import { closest, query } from '../core/acts';
import { doc, quiet, toJson } from '../core/bare';
import { button, cross, fill, inside, link, make, rests, span } from './anatomy';
import { edgeOffset } from './corner';
import { dress } from './dress';
import { openRegion, openRoot, styledRoot } from './root';
import { isAtTop, place, settle, showSlip } from './slip';

/** The pieces that draw, for the files that draw more: all of them draw into one and the same root. */
export const kit = {
  doc,
  quiet,
  toJson,
  closest,
  query,
  make,
  button,
  fill,
  inside,
  span,
  link,
  cross,
  dress,
  rests,
  edgeOffset,
  openRegion,
  openRoot,
  styledRoot,
  place,
  settle,
  showSlip,
  isAtTop,
};

export type Kit = typeof kit;
