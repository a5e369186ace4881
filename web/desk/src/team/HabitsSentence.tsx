import { useMutation, useQueryClient } from '@tanstack/react-query';
import { say } from '../data/toasts';
import { Refused } from '../kit/Panel';
import { ReadPhrase } from '../kit/Phrase';
import { PhraseMenu } from '../kit/PhraseMenu';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { type Habits, setHabits } from './api';

const REVIEW = [
  ['promises', 'A new wording of a promise needs'],
  ['everything', 'Everything that goes live needs'],
  ['nothing', 'Nothing needs'],
] as const;

const FACTOR = [
  ['nobody', 'a password or a passkey'],
  ['owners', 'a second factor for owners'],
  ['everybody', 'a second factor'],
] as const;

const HOURS = [
  ['1', '1 hour away'],
  ['12', '12 hours away'],
  ['24', 'a day away'],
  ['168', '7 days away'],
  ['336', '14 days away'],
] as const;

const IDLE = [5, 10, 15, 30, 60];
const GROUP = [1, 2, 3, 5, 10];
const EVERYBODY = [3, 5, 10, 15, 30, 60];

const plainMinutes = (n: number) => (n === 1 ? '1 minute' : `${n} minutes`);

/** What the team agreed on, as sentences whose marked phrases an owner changes. */
export function HabitsSentence({ habits }: { habits: Habits }) {
  const { member, workspace } = useDesk();
  const queries = useQueryClient();
  const change = useMutation({
    mutationFn: (next: Habits) => setHabits(workspace.id, next),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: ['team', workspace.id] });
      say('The house habits are changed.');
    },
  });
  const mayEdit = mayAct(member, 'govern');
  const hours = String(habits.awayHours);
  const away = HOURS.some(([h]) => h === hours) ? HOURS : ([...HOURS, [hours, `${hours} hours away`]] as const);
  const words = <T extends string>(choices: readonly (readonly [T, string])[], value: T) => choices.find(([v]) => v === value)?.[1];
  const minutes = (facet: 'when' | 'who', label: string, choices: readonly number[], of: keyof Habits['answers']) => {
    const value = habits.answers[of];
    const offered = [...new Set([...choices, value])].sort((a, b) => a - b).map((n) => [String(n), plainMinutes(n)] as const);
    return mayEdit ? (
      <PhraseMenu
        facet={facet}
        label={label}
        value={String(value)}
        choices={offered}
        onChoose={(n) => change.mutate({ ...habits, answers: { ...habits.answers, [of]: Number(n) } })}
      />
    ) : (
      <ReadPhrase facet={facet}>{plainMinutes(value)}</ReadPhrase>
    );
  };
  return (
    <>
      <p className="font-display text-[16px] leading-[30px]">
        {mayEdit ? (
          <PhraseMenu
            facet="often"
            label="What needs a second person"
            value={habits.review}
            choices={REVIEW}
            onChoose={(review) => change.mutate({ ...habits, review })}
          />
        ) : (
          <ReadPhrase facet="often">{words(REVIEW, habits.review)}</ReadPhrase>
        )}{' '}
        a publisher who did not write it. Signing in takes{' '}
        {mayEdit ? (
          <PhraseMenu
            facet="when"
            label="What signing in takes"
            value={habits.factor}
            choices={FACTOR}
            onChoose={(factor) => change.mutate({ ...habits, factor })}
          />
        ) : (
          <ReadPhrase facet="when">{words(FACTOR, habits.factor)}</ReadPhrase>
        )}
        . A session ends after{' '}
        {mayEdit ? (
          <PhraseMenu
            facet="when"
            label="When a session ends"
            value={hours}
            choices={away}
            onChoose={(h) => change.mutate({ ...habits, awayHours: Number(h) })}
          />
        ) : (
          <ReadPhrase facet="when">{words(away, hours)}</ReadPhrase>
        )}
        . Who has not moved for {minutes('when', 'When somebody is away', IDLE, 'idleMinutes')} is away for visitors. Who waits{' '}
        {minutes('who', 'When those who answer are told', GROUP, 'groupMinutes')} of open time is marked for those who answer, and after{' '}
        {minutes('who', 'When everybody is told', EVERYBODY, 'everybodyMinutes')} for everybody.
      </p>
      <Refused error={change.error} />
    </>
  );
}
