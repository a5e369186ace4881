import { closest, isShown, query } from './acts';
import { bare, doc, quiet, toJson } from './bare';

/** The pieces of the first file that what listens works with. */
export const kit = { bare, doc, quiet, toJson, closest, isShown, query };

export type Kit = typeof kit;
