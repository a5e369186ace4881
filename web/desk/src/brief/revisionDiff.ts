import { diffWordsWithSpace } from 'diff';
import { type Names, readBrief, type Sentence } from './model';
import type { Brief } from './types';

/** A run of words of two briefs: in both, only in the older, or only in the newer. */
export interface Run {
  words: string;
  is: 'same' | 'gone' | 'new';
}

/** How one facet reads in two briefs. */
export interface FacetDiff {
  facet: Sentence['facet'];
  label: string;
  runs: Run[];
}

const textOf = (sentence: Sentence) => sentence.parts.map((part) => (typeof part === 'string' ? part : part.words)).join('');

/** Compares two briefs word by word, facet by facet, as they read; facets that read the same are left out. */
export function compareBriefs(older: Brief, newer: Brief, names: Names): FacetDiff[] {
  const after = readBrief(newer, names);
  return readBrief(older, names).flatMap((sentence, i) => {
    const other = after[i];
    if (!other || textOf(sentence) === textOf(other)) return [];
    const runs = diffWordsWithSpace(textOf(sentence), textOf(other)).map(
      (part): Run => ({
        words: part.value,
        is: part.added ? 'new' : part.removed ? 'gone' : 'same',
      }),
    );
    return [{ facet: sentence.facet, label: sentence.label, runs }];
  });
}

/** A brief of which nothing was live before: every sentence is new. */
export const allNew = (brief: Brief, names: Names): FacetDiff[] =>
  readBrief(brief, names).map(({ facet, label, ...sentence }) => ({
    facet,
    label,
    runs: [{ words: textOf({ facet, label, ...sentence }), is: 'new' }],
  }));
