import { closest, query } from './acts';
import { button, fill, inside, make } from './anatomy';
import { styledRoot } from './root';
import { isAtTop, place, settle, showSlip } from './slip';

/** The pieces that shapes are drawn with. */
export const kit = { closest, make, button, fill, inside, query, styledRoot, place, settle, showSlip, isAtTop };

export type Kit = typeof kit;
