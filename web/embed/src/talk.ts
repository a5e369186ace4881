/** What holds a talk: fetched when somebody opens one, or has one open. */
export { holdTalk } from './talk/talk';
export { drawTalk } from './talk/view';
