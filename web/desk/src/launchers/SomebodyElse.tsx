import { useMutation, useQuery } from '@tanstack/react-query';
import { calloutsQuery } from '../catalogue/api';
import { Refused } from '../kit/Panel';
import { PhrasePopover } from '../kit/PhrasePopover';
import { FactEditor } from '../rehearsal/FactEditor';
import { factPhrases } from '../rehearsal/facts';
import { RecordedChoice } from '../rehearsal/RecordedChoice';
import { useDesk } from '../session/desk';
import { fetchJourney } from '../visits/api';
import type { PlannedPage } from '../visits/model';
import type { Visitor } from './api';

/** Any visitor, imagined fact by fact as in the rehearsal, or one who was recorded. */
export function SomebodyElse({
  visitor,
  onChange,
  onRecorded,
}: {
  visitor: Visitor;
  onChange(change: Visitor): void;
  onRecorded(recorded: { visitor: Visitor; pages: readonly PlannedPage[] }): void;
}) {
  const { site } = useDesk();
  const { data: callouts } = useQuery(calloutsQuery(site.id));
  const recorded = useMutation({
    mutationFn: ({ id, number }: { id: string; number: number }) => fetchJourney(site.id, id, number),
    onSuccess: onRecorded,
  });
  return (
    <>
      <p className="text-[14px] leading-[26px]">
        {factPhrases(visitor, (id) => callouts?.find((c) => c.id === id)?.name ?? 'a greeting').map((phrase) => (
          <span key={phrase.key}>
            {phrase.before}
            <PhrasePopover facet="who" label={phrase.label} words={phrase.words}>
              {() => <FactEditor fact={phrase.key} visitor={visitor} onChange={onChange} />}
            </PhrasePopover>
          </span>
        ))}
        . Or{' '}
        <PhrasePopover facet="from" label="A recorded visit" words="a recorded visit">
          {(close) => (
            <RecordedChoice
              onChoose={(id, number) => {
                recorded.mutate({ id, number });
                close();
              }}
            />
          )}
        </PhrasePopover>
        .
      </p>
      <Refused error={recorded.error} />
    </>
  );
}
