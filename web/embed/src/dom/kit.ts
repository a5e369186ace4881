import { closest, isShown, query } from './acts';
import { button, fill, inside, make } from './anatomy';
import { bare, doc, quiet, toJson } from './bare';
import { openRegion, openRoot, styledRoot } from './root';
import { isAtTop, place, settle, showSlip } from './slip';

/** The pieces of the first file that the others work with. */
export const kit = {
  bare,
  doc,
  quiet,
  toJson,
  closest,
  isShown,
  make,
  button,
  fill,
  inside,
  query,
  openRegion,
  openRoot,
  styledRoot,
  place,
  settle,
  showSlip,
  isAtTop,
};

export type Kit = typeof kit;
