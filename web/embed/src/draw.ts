/** What draws a slip, and the pieces that the files drawing more work with: fetched once something may have to be drawn. */
export { kit } from './draw/kit';
export { openScreen } from './draw/screen';
export { watchActs } from './listen/acts';
