export { ReplayPane } from './ReplayPane';
