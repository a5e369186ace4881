import type { MoreDrawing } from './core/drawing';
import type { Kit } from './draw/kit';
import { makeDraw } from './draw/shapes';
import { watchRareActs } from './listen/rareActs';

/** What few pages need: every shape but the plain slip, cards that stand behind one another, videos and elements that are waited for. */
export const open = (kit: Kit): MoreDrawing => ({
  draw: makeDraw(kit),
  watch: (cues, tell) => watchRareActs(kit, cues, tell),
});
