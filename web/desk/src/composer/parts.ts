import type { Brief } from '../brief/types';
import type { Part } from '../drafting/merge';

const WORDS: Record<Part<Brief>, string> = {
  name: 'the name',
  kind: 'the kind',
  say: 'Say',
  from: 'From',
  ask: 'Ask for, Promise and Then',
  where: 'Where',
  who: 'Who',
  when: 'When',
  howOften: 'How often',
  look: 'Look',
  priority: 'the priority',
  holdbackPercent: 'how many are shown nothing',
};

/** How a part is called on the page. */
export const partWords = (part: Part<Brief>): string => WORDS[part];
