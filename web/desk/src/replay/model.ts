import type { ReplayFigures } from './api';

const NUMBER = new Intl.NumberFormat('en-GB');

/** "1,204 visitors", "1 visitor". */
export const counted = (number: number, one: string, many = `${one}s`) => `${NUMBER.format(number)} ${number === 1 ? one : many}`;

/** A share of a whole as "12 %"; "under 1 %" rather than nothing when there is some. */
export function share(part: number, whole: number): string {
  if (whole === 0 || part === 0) return '0 %';
  const percent = (100 * part) / whole;
  return percent < 1 ? 'under 1 %' : percent > 99 && part < whole ? 'over 99 %' : `${Math.round(percent)} %`;
}

/** What came of it in one sentence. */
export function verdict(figures: ReplayFigures): string {
  const { visitors, visitorsReached, visitsReached, medianFirstSecond } = figures;
  if (visitors === 0) return 'No visits were recorded in this period.';
  if (visitorsReached === 0) return `None of ${counted(visitors, 'visitor')} would have met it.`;
  const when = medianFirstSecond === null ? '' : `, half of them within ${counted(Number(medianFirstSecond), 'second')} on the page`;
  return `${counted(visitorsReached, 'visitor')} of ${NUMBER.format(visitors)} (${share(visitorsReached, visitors)}) would have met it in ${counted(visitsReached, 'visit')}${when}.`;
}

/** Those who met it, by how often: "1", "2", "3", "4 or more". */
export function often(showings: readonly number[]): { times: string; visitors: number }[] {
  const [, once = 0, twice = 0, thrice = 0, ...more] = showings;
  return [
    { times: 'once', visitors: once },
    { times: 'twice', visitors: twice },
    { times: '3 times', visitors: thrice },
    { times: '4 or more', visitors: more.reduce((a, b) => a + b, 0) },
  ];
}
