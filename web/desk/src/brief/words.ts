import { languageName } from '../kit/languages';
import { plural } from '../kit/plural';
import { readSentence, tokenWords } from '../sentence/language';
import type { Brief, Source } from './types';

/** "the last 7 days" for a window in minutes; "all time" for none. */
export function windowWords(minutes: number | null): string {
  if (minutes === null) return 'all time';
  if (minutes % 1440 === 0 && minutes > 1440) return `the last ${minutes / 1440} days`;
  if (minutes % 60 === 0 && minutes > 60) return `the last ${minutes / 60} hours`;
  return `the last ${plural(minutes, 'minute')}`;
}

/** A message with its tokens as readable words: "{{ from_place }}" becomes "‹from place›". */
export function messageWords(message: string): string {
  return readSentence(message)
    .map((part) => {
      if (part.is === 'text') return part.text;
      if (part.is === 'plural') return part.forms.other ?? '';
      return `‹${tokenWords(part.is === 'token' ? part.name : (/\w+/.exec(part.source)?.[0] ?? ''))}›`;
    })
    .join('')
    .trim();
}

const COMPARISONS: Record<Brief['from']['conditions'][number]['comparison'], string> = {
  is: 'is',
  isNot: 'is not',
  contains: 'contains',
  greater: 'is more than',
  less: 'is less than',
  filled: 'is filled in',
};

/** The comparisons in the words of the brief. */
export const comparisonWords = (comparison: keyof typeof COMPARISONS) => COMPARISONS[comparison];

/** "whose category is Kits": the conditions as a clause. */
export function conditionWords(from: Brief['from']): string {
  if (from.conditions.length === 0) return 'about anything';
  const clauses = from.conditions.map(
    (c) => `${c.field} ${comparisonWords(c.comparison)}${c.comparison === 'filled' ? '' : ` ${c.value}`}`,
  );
  return `whose ${clauses.join(from.join === 'all' ? ' and ' : ' or ')}`;
}

/** The chosen sources by name. */
export function sourceWords(brief: Brief, sources: readonly Pick<Source, 'id' | 'name'>[]): string {
  const names = brief.from.sources.map((id) => sources.find((s) => s.id === id)?.name ?? 'a source that is gone');
  return names.length === 0 ? 'no source yet' : names.join(' and ');
}

/** "every page", or the patterns, the first few by name. */
export function pageWords(patterns: readonly string[]): string {
  if (patterns.length === 0) return 'every page';
  if (patterns.length <= 3) return patterns.join(', ');
  return `${patterns.slice(0, 2).join(', ')} and ${patterns.length - 2} more patterns`;
}

/** What each kind is called, and what it tells. */
export const KINDS: Record<Brief['kind'], { name: string; tells: string }> = {
  moment: { name: 'Moment', tells: 'One real event: somebody bought, booked, signed up.' },
  tally: { name: 'Tally', tells: 'How many did something in a period, or looked at a page.' },
  headcount: { name: 'Headcount', tells: 'How many are here now, or looked lately.' },
  remainder: { name: 'Remainder', tells: 'How few are left of something.' },
  quote: { name: 'Quote', tells: 'A review, or words somebody lent you.' },
  standing: { name: 'Standing', tells: 'A rating or follower total from elsewhere.' },
  notice: { name: 'Notice', tells: 'An announcement, an offer, a countdown. It needs no events.' },
  prompt: { name: 'Prompt', tells: 'A question: may we write to you? It asks for an address, a number, an answer.' },
};

/** The kinds in the order in which they are offered. */
export const KIND_ORDER = Object.keys(KINDS) as Brief['kind'][];

const PICTURES: Record<Brief['say']['picture'], string> = {
  none: 'without a picture',
  product: "beside the product's picture",
  initials: 'beside the initials',
  sign: 'beside a plain sign',
  image: 'beside a picture of yours',
  map: 'beside a small map',
};

/** The picture as a clause. */
export const pictureWords = (picture: Brief['say']['picture']) => PICTURES[picture];

/** Where a click leads, as a clause. */
export function linkWords({ link, linkAddress, newTab, button }: Brief['say']): string {
  if (link === 'none') return 'linked to nothing';
  const target = link === 'product' ? "the product's page" : linkAddress || 'an address yet to be written';
  const how = button ? `with a button "${button}" to` : 'linked to';
  return `${how} ${target}${newTab ? ' in a new tab' : ''}`;
}

const TIMES: Record<Brief['say']['time'], string> = {
  hidden: 'no time',
  rough: 'a rough time',
  ago: 'how long ago',
  clock24: 'the time of day',
  clock12: 'the time of day',
};

const NUMBERS: Record<Brief['say']['number'], string> = {
  exact: 'exact numbers',
  rounded: 'rounded numbers',
  hidden: 'no numbers',
};

/** How exactly times and numbers are said. */
export function mannerWords({ kind, say }: Brief): string {
  const parts = [];
  if (kind === 'moment' || kind === 'quote') parts.push(TIMES[say.time]);
  if (kind !== 'moment' && kind !== 'quote' && kind !== 'notice') parts.push(NUMBERS[say.number]);
  if (kind === 'notice') parts.push(say.code ? `the code ${say.code} to copy` : 'no code to copy');
  return parts.join(' and ');
}

/** In which languages it speaks. */
export function languageWords(say: Brief['say']): string {
  const others = say.translations.map((t) => languageName(t.language));
  return others.length === 0 ? "in the site's own language" : `also in ${others.join(', ')}`;
}

const UNITS = { hours: 'hour', days: 'day', weeks: 'week', months: 'month' } as const;

/** "3 days", "a week"; the number is left out where it is one. */
export function unitWords(unit: keyof typeof UNITS, number: number): string {
  return number === 1 ? UNITS[unit] : `${number} ${UNITS[unit]}s`;
}

/** How often for one visitor, as a clause. */
export function repeatWords({ unit, every, mostVisits, mostPerWeek, untilClicked }: Brief['howOften']): string {
  const base =
    unit === 'pageView'
      ? 'at every page view'
      : unit === 'visit'
        ? 'once a visit'
        : unit === 'ever'
          ? 'once and never again'
          : `once every ${unitWords(unit, every)}`;
  return [
    base,
    mostPerWeek === null ? '' : `in up to ${plural(mostPerWeek, 'visit')} a week`,
    mostVisits === null ? '' : `in up to ${plural(mostVisits, 'visit')} in all`,
    untilClicked ? 'until clicked' : '',
  ]
    .filter(Boolean)
    .join(', ');
}

/** How long it stays away after a close or a success, as a verb; what is said where it does not. */
export function pauseWords({ unit, number }: Brief['howOften']['afterClose'], none: string): string {
  if (unit === 'ever') return 'stays away for good';
  if (unit === 'pageView' || unit === 'visit') return none;
  return `stays away for ${unitWords(unit, number)}`;
}
