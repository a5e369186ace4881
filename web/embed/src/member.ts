/** What only the site's own people see in their own browsers: the private note, and the panel of a trial visit. */
export { showMark } from './member/mark';
export { tellDesk } from './member/stage';
