import { useQuery } from '@tanstack/react-query';
import { calloutsQuery, sourcesQuery } from '../catalogue/api';
import { markerOf } from '../kit/Phrase';
import { PhraseMenu } from '../kit/PhraseMenu';
import { scriptsQuery } from '../scripts/api';
import { useDesk } from '../session/desk';
import type { FollowUp } from './api';

type Hours = FollowUp['hours'];

const span = (day: Hours[number]['day'], from: string, until: string): Hours[number] => ({ day, from, until });
const WEEKDAYS = ['monday', 'tuesday', 'wednesday', 'thursday', 'friday'] as const;

const HOURS: readonly (readonly [key: string, words: string, hours: Hours])[] = [
  ['any', 'at any hour', []],
  ['week', 'on weekdays from nine to five', WEEKDAYS.map((d) => span(d, '09:00:00', '17:00:00'))],
  [
    'day',
    'every day from nine to eight',
    [...WEEKDAYS, 'saturday' as const, 'sunday' as const].map((d) => span(d, '09:00:00', '20:00:00')),
  ],
];

const keyOf = (hours: Hours) => HOURS.find(([, , h]) => JSON.stringify(h) === JSON.stringify(hours))?.[0] ?? 'own';

/** By what somebody comes in, when it writes, and when it is over: one sentence with its phrases to choose. */
export function FollowSentence({
  follow,
  mayEdit,
  onChange,
}: {
  follow: FollowUp;
  mayEdit: boolean;
  onChange(change: Partial<FollowUp>): void;
}) {
  const { site } = useDesk();
  const { data: callouts } = useQuery(calloutsQuery(site.id));
  const { data: scripts } = useQuery(scriptsQuery(site.id));
  const { data: sources } = useQuery(sourcesQuery(site.id));
  const asks = [
    ...(callouts ?? []).filter((c) => c.brief.kind === 'prompt').map((c) => [c.id, `to “${c.name}”`] as const),
    ...(scripts ?? []).map((s) => [s.id, `in the script “${s.name}”`] as const),
    ...(sources ?? []).filter((s) => s.form?.promise).map((s) => [s.id, `by the form “${s.name}”`] as const),
  ];
  const to = follow.definitionId ?? '';
  const goal = follow.goalSourceId ?? '';
  const hours = keyOf(follow.hours);
  return (
    <fieldset disabled={!mayEdit} className="font-display text-[17px] leading-8">
      Follows whoever{' '}
      <PhraseMenu
        facet="from"
        label="By what they come in"
        value={follow.after}
        choices={[
          ['yes', 'said yes'],
          ['tag', 'is given a tag'],
        ]}
        onChoose={(after) => onChange({ after })}
      />{' '}
      {follow.after === 'yes' ? (
        <PhraseMenu
          facet="where"
          label="To what"
          value={to}
          choices={[['', 'to … choose one'], ...asks, ...(to && !asks.some(([id]) => id === to) ? [[to, 'to what is gone'] as const] : [])]}
          onChoose={(id) => onChange({ definitionId: id || null })}
        />
      ) : (
        <span className="phrase" style={markerOf('where')}>
          <input
            aria-label="The tag"
            value={follow.tag}
            maxLength={30}
            placeholder="which tag"
            className="field-sizing-content min-w-24 !border-transparent !bg-transparent !px-1"
            onChange={(e) => onChange({ tag: e.currentTarget.value })}
          />
        </span>
      )}
      . It writes{' '}
      <PhraseMenu
        facet="when"
        label="When it writes"
        value={hours}
        choices={[
          ...HOURS.map(([key, words]) => [key, words] as const),
          ...(hours === 'own' ? [['own', 'at hours of its own'] as const] : []),
        ]}
        onChoose={(key) => onChange({ hours: HOURS.find(([k]) => k === key)?.[2] ?? follow.hours })}
      />
      {follow.hours.length > 0 && ' by the reader’s own clock, where that is known'}, once a day at most. It is over for whoever takes it
      back, cannot be reached,{' '}
      <PhraseMenu
        facet="often"
        label="Whether a talk ends it"
        value={follow.endsWithTalk ? 'yes' : 'no'}
        choices={[
          ['yes', 'writes in a talk,'],
          ['no', 'and goes on for who writes in a talk,'],
        ]}
        onChoose={(v) => onChange({ endsWithTalk: v === 'yes' })}
      />{' '}
      <PhraseMenu
        facet="after"
        label="What ends it"
        value={goal}
        choices={[['', 'and for nothing else'], ...(sources ?? []).map((s) => [s.id, `or has an event of “${s.name}”`] as const)]}
        onChoose={(id) => onChange({ goalSourceId: id || null })}
      />
      .
    </fieldset>
  );
}
