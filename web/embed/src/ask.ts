/** What a prompt asks for: fetched where one may be shown. */
export { openAsking as open } from './ask/ask';
