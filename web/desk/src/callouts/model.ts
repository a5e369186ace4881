import type { Facet } from '../ui/Phrase';
import type { Brief, Source } from './api';

/** The facets of a brief in the order in which it is read. */
export type BriefFacet = Exclude<Facet, 'who'>;

/** A part of a sentence: plain words, or a phrase that can be opened under its key. */
export type Part = string | { key: string; words: string };

/** One facet read as a sentence. */
export interface Sentence {
  facet: BriefFacet;
  label: string;
  parts: Part[];
}

const plural = (n: number, one: string, many = `${one}s`) => `${n} ${n === 1 ? one : many}`;

/** "the last 7 days" for a window in minutes; "all time" for none. */
export function windowWords(minutes: number | null): string {
  if (minutes === null) return 'all time';
  if (minutes % 1440 === 0 && minutes > 1440) return `the last ${minutes / 1440} days`;
  if (minutes % 60 === 0 && minutes > 60) return `the last ${minutes / 60} hours`;
  return `the last ${plural(minutes, 'minute')}`;
}

/** A message with its tokens as readable words: "{{ from_place }}" becomes "‹from place›". */
export function messageWords(message: string): string {
  return message
    .replace(/\{\{\s*(\w+)[^}]*\}\}/g, (_, token: string) => `‹${token.replace(/_/g, ' ')}›`)
    .replace(/\*\*|__/g, '')
    .replace(/\[([^\]]*)\]\([^)]*\)/g, '$1')
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
  if (from.conditions.length === 0) return 'whatever they are about';
  const clauses = from.conditions.map(
    (c) => `${c.field} ${comparisonWords(c.comparison)}${c.comparison === 'filled' ? '' : ` ${c.value}`}`,
  );
  return `whose ${clauses.join(from.join === 'all' ? ' and ' : ' or ')}`;
}

function sourceWords(brief: Brief, sources: readonly Source[]): string {
  const names = brief.from.sources.map((id) => sources.find((s) => s.id === id)?.name ?? 'a source that is gone');
  return names.length === 0 ? 'no source yet' : names.join(' and ');
}

/** "every page", or the patterns, the first few by name. */
export function pageWords(patterns: readonly string[]): string {
  if (patterns.length === 0) return 'every page';
  if (patterns.length <= 3) return patterns.join(', ');
  return `${patterns.slice(0, 2).join(', ')} and ${patterns.length - 2} more patterns`;
}

const PICTURES = { none: 'without a picture', product: "beside the product's picture", initials: 'beside the initials' };

function linkWords({ link, linkAddress, newTab }: Brief['say']): string {
  if (link === 'none') return 'linked to nothing';
  const target = link === 'product' ? "linked to the product's page" : `linked to ${linkAddress || 'an address yet to be written'}`;
  return newTab ? `${target} in a new tab` : target;
}

function repeatWords({ unit, everyDays, mostVisits }: Brief['howOften']): string {
  const base =
    unit === 'pageView'
      ? 'at every page view'
      : unit === 'visit'
        ? 'once a visit'
        : everyDays === 1
          ? 'once a day'
          : `once in ${everyDays} days`;
  return mostVisits === null ? base : `${base}, ${mostVisits} ${mostVisits === 1 ? 'visit' : 'visits'} in all`;
}

/** Reads a brief as sentences. The words between the phrases never change, so that the eye learns where things stand. */
export function readBrief(brief: Brief, sources: readonly Source[]): Sentence[] {
  const { say, from, where, when, howOften, look } = brief;
  return [
    {
      facet: 'say',
      label: 'Say',
      parts: [
        'Tell them ',
        { key: 'say.message', words: messageWords(say.message) || 'nothing yet' },
        ', ',
        { key: 'say.picture', words: PICTURES[say.picture] },
        ', ',
        { key: 'say.link', words: linkWords(say) },
        '.',
      ],
    },
    {
      facet: 'from',
      label: 'From',
      parts: [
        'Take events of ',
        { key: 'from.sources', words: sourceWords(brief, sources) },
        ' from ',
        { key: 'from.window', words: windowWords(from.windowMinutes) },
        ', ',
        { key: 'from.conditions', words: conditionWords(from) },
        '; stay silent below ',
        { key: 'from.least', words: plural(from.leastNumber, 'event') },
        '.',
      ],
    },
    {
      facet: 'where',
      label: 'Where',
      parts: [
        'Show it on ',
        { key: 'where', words: pageWords(where.includes) },
        ...(where.excludes.length > 0 ? [', never on ', { key: 'where.excludes', words: pageWords(where.excludes) }] : []),
        '.',
      ],
    },
    {
      facet: 'when',
      label: 'When',
      parts: [
        'It appears ',
        { key: 'when.after', words: when.afterSeconds === 0 ? 'on arrival' : `${plural(when.afterSeconds, 'second')} after arrival` },
        ', in ',
        { key: 'when.turns', words: when.turns === 1 ? 'one turn' : `${when.turns} turns ${when.turnGapSeconds} s apart` },
        '.',
      ],
    },
    {
      facet: 'often',
      label: 'How often',
      parts: [
        'At most ',
        { key: 'often.repeat', words: repeatWords(howOften) },
        '; a close hushes the site for ',
        { key: 'often.hush', words: plural(howOften.hushHours, 'hour') },
        '.',
      ],
    },
    {
      facet: 'look',
      label: 'Look',
      parts: [
        'Drawn as ',
        { key: 'look.side', words: `a slip, bottom ${look.side}` },
        ', in ',
        { key: 'look.colours', words: `${look.band} on ${look.ground}` },
        ', for ',
        { key: 'look.stay', words: plural(look.staySeconds, 'second') },
        ', ',
        { key: 'look.close', words: look.closeMark ? 'with a close mark' : 'without a close mark' },
        '.',
      ],
    },
  ];
}

const PHRASE_VALUES: Record<string, (brief: Brief) => unknown> = {
  'say.message': (b) => [b.say.message, b.say.showTime],
  'say.picture': (b) => b.say.picture,
  'say.link': (b) => [b.say.link, b.say.linkAddress, b.say.newTab],
  'from.sources': (b) => [b.from.sources, b.from.shuffle],
  'from.window': (b) => b.from.windowMinutes,
  'from.conditions': (b) => [b.from.conditions, b.from.join],
  'from.least': (b) => b.from.leastNumber,
  where: (b) => b.where.includes,
  'where.excludes': (b) => b.where.excludes,
  'when.after': (b) => b.when.afterSeconds,
  'when.turns': (b) => [b.when.turns, b.when.turnGapSeconds],
  'often.repeat': (b) => [b.howOften.unit, b.howOften.everyDays, b.howOften.mostVisits],
  'often.hush': (b) => b.howOften.hushHours,
  'look.side': (b) => b.look.side,
  'look.colours': (b) => [b.look.band, b.look.ground],
  'look.stay': (b) => b.look.staySeconds,
  'look.close': (b) => b.look.closeMark,
};

/** Keys of the phrases in which the draft differs from what is live; none before the first publication. */
export function changedPhrases(draft: Brief, live: Brief | null): string[] {
  if (!live) return [];
  return Object.entries(PHRASE_VALUES)
    .filter(([, read]) => JSON.stringify(read(draft)) !== JSON.stringify(read(live)))
    .map(([key]) => key);
}
