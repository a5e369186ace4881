import { closest, query } from '../core/acts';
import { doc, quiet } from '../core/bare';
import { button, fill, inside, make } from './anatomy';
import { openRegion, openRoot, styledRoot } from './root';
import { isAtTop, place, settle, showSlip } from './slip';

/** The pieces that draw, for the files that draw more: all of them draw into one and the same root. */
export const kit = {
  doc,
  quiet,
  closest,
  query,
  make,
  button,
  fill,
  inside,
  openRegion,
  openRoot,
  styledRoot,
  place,
  settle,
  showSlip,
  isAtTop,
};

export type Kit = typeof kit;
