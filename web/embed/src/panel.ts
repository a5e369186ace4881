/** What is in a launcher's panel: fetched once somebody is about to open it. */
export { openApp } from './launch/openApp';
export { makePanel } from './launch/panel';
export { ring } from './launch/sound';
