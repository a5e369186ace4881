export { HouseRulesPanel } from './HouseRulesPanel';
