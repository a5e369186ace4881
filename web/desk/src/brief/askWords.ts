import type { Brief } from './types';

export type Ask = NonNullable<Brief['ask']>;
export type Words = Ask['words'][number];

const BLANK: Omit<Words, 'language'> = { button: '', promise: '', smallPrint: '', thanks: '', thanksDetail: '', mail: '' };

/** Words of the prompt in one language; empty ones where it has none. */
export const wordsOf = (ask: Ask, language: string): Words => ask.words.find((w) => w.language === language) ?? { language, ...BLANK };

/** The same prompt with other words in a language. */
export const withWords = (ask: Ask, language: string, change: Partial<Words>): Ask => ({
  ...ask,
  words: [...ask.words.filter((w) => w.language !== language), { ...wordsOf(ask, language), ...change }].sort((a, b) =>
    a.language.localeCompare(b.language),
  ),
});
