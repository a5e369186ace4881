import type { Schema } from '../data/api';
import type { Facet } from '../kit/Phrase';

type Place = NonNullable<Schema<'ControlPlace'>>;

/** Where at the desk a reason can be changed: a facet of the brief, or another control. */
export type Control =
  | { is: 'facet'; facet: Facet; words: string }
  | { is: 'rules'; words: string }
  | { is: 'offAir'; words: string }
  | { is: 'state'; words: string }
  | { is: 'sheet'; words: string }
  | { is: 'nowhere' };

const FACETS: Partial<Record<Place, Facet>> = {
  say: 'say',
  from: 'from',
  where: 'where',
  who: 'who',
  when: 'when',
  howOften: 'often',
  look: 'look',
  after: 'after',
};

const FACET_WORDS: Record<Facet, string> = {
  say: 'Change what it says',
  from: 'Change which events it draws on',
  ask: 'Change what it asks for',
  promise: 'Change what it promises',
  after: 'Change what it gives',
  where: 'Change its pages',
  who: 'Change its visitors',
  when: 'Change when it comes',
  often: 'Change how often it comes',
  look: 'Change how it sits on the page',
};

/** The control that a place names. */
export function controlOf(place: Place): Control {
  const facet = FACETS[place];
  if (facet) return { is: 'facet', facet, words: FACET_WORDS[facet] };
  switch (place) {
    case 'houseRules':
      return { is: 'rules', words: 'Change the house rules' };
    case 'offAir':
      return { is: 'offAir', words: 'The site is off air: the strip below has the switch' };
    case 'state':
      return { is: 'state', words: 'Open it to publish or resume it' };
    case 'runSheet':
      return { is: 'sheet', words: 'See what stands in its way' };
    default:
      return { is: 'nowhere' };
  }
}
