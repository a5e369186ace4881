import { Fragment } from 'react';
import { ReadPhrase } from '../kit/Phrase';
import { readBrief } from './model';
import type { Brief } from './types';
import { useNames } from './useNames';

/** A brief read in one go, without its look. */
export function BriefLine({ brief, className }: { brief: Brief; className?: string }) {
  const told = readBrief(brief, useNames()).filter((s) => s.facet !== 'look');
  return (
    <p className={className}>
      {told.map((sentence) => (
        <Fragment key={sentence.facet}>
          {sentence.parts.map((part) =>
            typeof part === 'string' ? (
              part
            ) : (
              <ReadPhrase key={part.key} facet={sentence.facet}>
                {part.words}
              </ReadPhrase>
            ),
          )}{' '}
        </Fragment>
      ))}
    </p>
  );
}
