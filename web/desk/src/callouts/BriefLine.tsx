import { useQuery } from '@tanstack/react-query';
import { Fragment } from 'react';
import { useDesk } from '../app/desk';
import { ReadPhrase } from '../ui/Phrase';
import { type Brief, sourcesQuery } from './api';
import { readBrief } from './model';

/** A brief read in one go, without its look. */
export function BriefLine({ brief, className }: { brief: Brief; className?: string }) {
  const { site } = useDesk();
  const { data: sources = [] } = useQuery(sourcesQuery(site.id));
  const told = readBrief(brief, sources).filter((s) => s.facet !== 'look');
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
