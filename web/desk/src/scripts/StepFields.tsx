import { useQuery } from '@tanstack/react-query';
import { launchersQuery } from '../callouts/greetings';
import { calloutsQuery, segmentsQuery } from '../catalogue/api';
import { Button } from '../kit/Button';
import { NumberField, SelectField, TextField, Tick } from '../kit/Field';
import { answeringQuery, groupsQuery } from '../session/answering';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import type { Step } from './api';

type Ask = NonNullable<Step['ask']>;
type If = NonNullable<Step['if']>;

const ASKS: readonly (readonly [Ask['kind'], string])[] = [
  ['choice', 'one of the replies'],
  ['text', 'own words'],
  ['number', 'a number'],
  ['email', 'an e-mail address'],
  ['phone', 'a phone number'],
  ['date', 'a date'],
  ['consent', 'consent'],
  ['time', 'a time that is free'],
];

const SOME_TIMES: NonNullable<Ask['times']> = { title: '', minutes: 60, noticeHours: 24, daysAhead: 14 };

const ONS: readonly (readonly [If['on'], string])[] = [
  ['answer', 'a kept answer'],
  ['open', 'whether it is open'],
  ['somebodyHere', 'whether somebody is here'],
  ['language', 'the language'],
  ['page', 'the page'],
  ['segment', 'a segment'],
  ['known', 'whether the site knows them'],
];

const COMPARISONS: readonly (readonly [If['comparison'], string])[] = [
  ['is', 'is'],
  ['isNot', 'is not'],
  ['moreThan', 'is more than'],
  ['lessThan', 'is less than'],
  ['contains', 'has in it'],
  ['isKept', 'is kept'],
];

const YES_NO = new Set<If['on']>(['open', 'somebodyHere', 'known']);

/** Everything of a step besides its words. */
export function StepFields({
  step,
  steps,
  at,
  language,
  mayEdit,
  onChange,
  onAct,
}: {
  step: Step;
  steps: readonly Step[];
  at: number;
  language: string;
  mayEdit: boolean;
  onChange(step: Step): void;
  onAct(act: 'new' | 'remove'): void;
}) {
  const targets: readonly (readonly [string, string])[] = [
    ['', 'the next step'],
    ...steps.map((s, i) => [s.id, `step ${i + 1}: ${s.words[0]?.words.slice(0, 40) || s.kind}`] as const),
  ];
  return (
    <fieldset disabled={!mayEdit} className="grid gap-3 border-b border-cobalt px-12 py-3">
      {step.kind === 'ask' && step.ask && (
        <AskFields step={step} ask={step.ask} language={language} targets={targets} onChange={onChange} />
      )}
      {step.if && <IfFields condition={step.if} onChange={(change) => onChange({ ...step, if: { ...(step.if as If), ...change } })} />}
      {step.kind === 'keep' && (
        <div className="flex flex-wrap gap-3">
          <TextField label="Field" value={step.field} maxLength={40} onText={(field) => onChange({ ...step, field })} />
          <TextField label="Value" value={step.value} maxLength={200} onText={(value) => onChange({ ...step, value })} />
        </div>
      )}
      {step.kind === 'offer' && <OfferFields step={step} onChange={onChange} />}
      {step.kind === 'goTo' && (
        <SelectField
          label="Goes to"
          value={step.target ?? ''}
          choices={targets}
          onChoose={(target) => onChange({ ...step, target: target || null })}
        />
      )}
      {step.kind === 'handOver' && <HandOverFields step={step} onChange={onChange} />}
      {mayEdit && (
        <p className="flex gap-4">
          <Button kind="link" onClick={() => onAct('new')}>
            New step below
          </Button>
          {steps.length > 1 && (
            <Button kind="link" className="!text-bad" onClick={() => onAct('remove')}>
              Remove step {at + 1}
            </Button>
          )}
        </p>
      )}
    </fieldset>
  );
}

const WAYS: Record<string, string> = {
  phone: 'a call',
  text: 'a text message',
  email: 'an e-mail',
  messenger: 'a messaging app',
  link: 'a page',
};

/** What an offer leads to: an address, a channel of one of the site's launchers that leads elsewhere, or a prompt. */
function OfferFields({ step, onChange }: { step: Step; onChange(step: Step): void }) {
  const { site } = useDesk();
  const { data: launchers } = useQuery(launchersQuery(site.id));
  const { data: callouts } = useQuery(calloutsQuery(site.id));
  const choices: [string, string][] = [
    ['', 'an address'],
    ...(launchers ?? []).flatMap((l) =>
      (l.live ?? l.draft).channels
        .filter((c) => c.kind !== 'chat' && c.kind !== 'form')
        .map((c): [string, string] => [`channel ${c.id}`, `${c.label || WAYS[c.kind]} (${l.name})`]),
    ),
    ...(callouts ?? []).filter((c) => c.brief.kind === 'prompt').map((c): [string, string] => [`prompt ${c.id}`, `the prompt “${c.name}”`]),
  ];
  const offers = step.offers ?? 'address';
  const value = offers === 'address' ? '' : `${offers} ${step.offered}`;
  if (!choices.some(([key]) => key === value)) {
    const isKnown = offers === 'prompt' ? callouts : launchers;
    choices.push([value, `a ${offers}${isKnown ? ' that is gone' : ''}`]);
  }
  return (
    <div className="flex flex-wrap gap-3">
      <SelectField
        label="Leads to"
        value={value}
        choices={choices}
        onChoose={(to) => {
          const [kind, id] = to.split(' ');
          onChange({ ...step, offers: (kind || 'address') as Step['offers'], offered: id ?? null, value: id ? '' : step.value });
        }}
      />
      {offers === 'address' && (
        <TextField label="Address" placeholder="https:// or /page" value={step.value} onText={(value) => onChange({ ...step, value })} />
      )}
      {offers === 'channel' && (
        <p className="self-end pb-1 text-soft">
          Offered while that launcher is live and the channel is open; else the script goes on without.
        </p>
      )}
      {offers === 'prompt' && (
        <p className="self-end pb-1 text-soft">
          Opens in place of the talk. Offered on the prompt’s own pages, while it is live, to whoever has said yes to none; else the script
          goes on without.
        </p>
      )}
    </div>
  );
}

/** To whom a talk goes: one choice of all there are, by name. */
function HandOverFields({ step, onChange }: { step: Step; onChange(step: Step): void }) {
  const { site, workspace, member } = useDesk();
  const { data: groups } = useQuery(groupsQuery(workspace.id));
  const { data: answering } = useQuery({ ...answeringQuery(site.id), enabled: mayAct(member, 'answer') });
  const value =
    step.to === 'group' ? `group ${step.groupId}` : step.to === 'member' ? `member ${step.memberId}` : (step.to ?? 'whoeverIsHere');
  const choices: [string, string][] = [
    ['whoeverIsHere', 'whoever is here'],
    ['fewestTalks', 'whoever has the fewest talks'],
    ...(groups ?? []).map((g): [string, string] => [`group ${g.id}`, `the group ${g.name}`]),
    ...(answering ?? []).map((m): [string, string] => [`member ${m.id}`, m.name]),
  ];
  if (!choices.some(([key]) => key === value)) {
    // Who answers is told to those who may answer; of somebody not told of nobody knows that they are gone.
    const [known, one, gone] =
      step.to === 'group' ? [groups, 'a group', 'a group that is gone'] : [answering, 'one of the team', 'somebody who is gone'];
    choices.push([value, known ? gone : one]);
  }
  return (
    <>
      <SelectField
        label="To"
        value={value}
        choices={choices}
        onChoose={(chosen) => {
          const [kind, id] = chosen.split(' ');
          onChange({
            ...step,
            to: kind as Step['to'],
            groupId: kind === 'group' && id ? id : null,
            memberId: kind === 'member' && id ? id : null,
          });
        }}
      />
      <p className="text-[12px] leading-4 text-soft">Steps that stand deeper below it are taken when nobody of them is here.</p>
    </>
  );
}

function TimesFields({ times, onChange }: { times: NonNullable<Ask['times']>; onChange(times: NonNullable<Ask['times']>): void }) {
  return (
    <>
      <TextField
        label="What is booked"
        placeholder="A visit to the workshop"
        hint="The invitation is called so."
        value={times.title}
        maxLength={80}
        onText={(title) => onChange({ ...times, title })}
      />
      <div className="flex flex-wrap gap-3">
        <NumberField label="Minutes" min={5} max={480} value={times.minutes} onValue={(minutes) => onChange({ ...times, minutes })} />
        <NumberField
          label="Hours before"
          min={0}
          max={336}
          value={times.noticeHours}
          onValue={(noticeHours) => onChange({ ...times, noticeHours })}
        />
        <NumberField
          label="Days ahead"
          min={1}
          max={60}
          value={times.daysAhead}
          onValue={(daysAhead) => onChange({ ...times, daysAhead })}
        />
      </div>
      <p className="text-[12px] leading-4 text-soft">
        Up to six free times inside the launcher’s hours are the replies. Each is given once; the invitation goes out by mail once an
        address and consent are there.
      </p>
    </>
  );
}

function AskFields({
  step,
  ask,
  language,
  targets,
  onChange,
}: {
  step: Step;
  ask: Ask;
  language: string;
  targets: readonly (readonly [string, string])[];
  onChange(step: Step): void;
}) {
  const put = (change: Partial<Ask>) => onChange({ ...step, ask: { ...ask, ...change } });
  const own = step.words.find((w) => w.language === language) ?? { language, words: '', replies: [], retry: '' };
  const first = step.words.find((w) => w.language === '');
  const putWords = (change: Partial<typeof own>) => {
    const rest = step.words.filter((w) => w.language !== language);
    const entry = { ...own, ...change };
    onChange({ ...step, words: language === '' ? [entry, ...rest] : [...rest, entry] });
  };
  const replies = own.replies;
  return (
    <div className="grid gap-4 md:grid-cols-2">
      <div className="grid content-start gap-2">
        <b className="font-semibold">
          {ask.kind === 'time' ? 'The replies are the times that are free' : 'Ready replies, and where each leads'}
        </b>
        {ask.kind === 'time' && <TimesFields times={ask.times ?? SOME_TIMES} onChange={(times) => put({ times })} />}
        {ask.kind !== 'time' &&
          replies.map((reply, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: a reply is its place: leads and languages go by it.
            <div key={i} className="flex items-center gap-2">
              <input
                aria-label={`Reply ${i + 1}`}
                dir="auto"
                maxLength={80}
                value={reply}
                placeholder={first?.replies[i] ?? ''}
                className="min-w-0 flex-1"
                onChange={(e) => putWords({ replies: replies.map((r, j) => (j === i ? e.currentTarget.value : r)) })}
              />
              <select
                aria-label={`Reply ${i + 1} leads to`}
                value={ask.leads[i] ?? ''}
                className="w-36"
                onChange={(e) => {
                  const leads = replies.map((_, j) => (j === i ? e.currentTarget.value || null : (ask.leads[j] ?? null)));
                  put({ leads });
                }}
              >
                {targets.map(([id, words]) => (
                  <option key={id} value={id}>
                    {words}
                  </option>
                ))}
              </select>
              <button
                type="button"
                aria-label={`Remove reply ${i + 1}`}
                className="grid h-7 w-7 place-items-center text-soft hover:text-bad"
                onClick={() =>
                  onChange({
                    ...step,
                    ask: { ...ask, leads: ask.leads.filter((_, j) => j !== i) },
                    words: step.words.map((w) => ({ ...w, replies: w.replies.filter((_, j) => j !== i) })),
                  })
                }
              >
                ×
              </button>
            </div>
          ))}
        {ask.kind !== 'time' && replies.length < 8 && (
          <p>
            <Button kind="link" onClick={() => putWords({ replies: [...replies, ''] })}>
              Add a reply
            </Button>
          </p>
        )}
      </div>
      <div className="grid content-start gap-2">
        <SelectField
          label="Asks for"
          value={ask.kind}
          choices={ASKS}
          onChoose={(kind) => put({ kind, times: kind === 'time' ? (ask.times ?? SOME_TIMES) : null })}
        />
        <TextField label="Keep the answer as" value={ask.field} maxLength={40} onText={(field) => put({ field })} />
        {ask.kind === 'choice' && (
          <Tick checked={ask.ownWords} onTick={(ownWords) => put({ ownWords })}>
            Or own words
          </Tick>
        )}
        {ask.kind === 'number' && (
          <div className="flex gap-3">
            <NumberField label="From" min={-1_000_000} max={1_000_000} value={ask.least ?? 0} onValue={(least) => put({ least })} />
            <NumberField label="to" min={-1_000_000} max={1_000_000} value={ask.most ?? 1_000} onValue={(most) => put({ most })} />
          </div>
        )}
        <TextField
          label="If it makes no sense, say"
          placeholder="The question once more"
          value={own.retry}
          maxLength={500}
          onText={(retry) => putWords({ retry })}
        />
      </div>
    </div>
  );
}

function IfFields({ condition, onChange }: { condition: If; onChange(change: Partial<If>): void }) {
  const { site } = useDesk();
  const { data: segments } = useQuery({ ...segmentsQuery(site.id), enabled: condition.on === 'segment' });
  return (
    <div className="flex flex-wrap items-end gap-3">
      <SelectField
        label="Looks at"
        value={condition.on}
        choices={ONS}
        onChoose={(on) => onChange({ on, comparison: 'is', value: YES_NO.has(on) ? 'yes' : '' })}
      />
      {condition.on === 'answer' && (
        <TextField label="Field" value={condition.field} maxLength={40} onText={(field) => onChange({ field })} />
      )}
      {!YES_NO.has(condition.on) && condition.on !== 'segment' && (
        <SelectField
          label="Which"
          value={condition.comparison}
          choices={condition.on === 'answer' ? COMPARISONS : COMPARISONS.slice(0, 2)}
          onChoose={(comparison) => onChange({ comparison })}
        />
      )}
      {YES_NO.has(condition.on) ? (
        <SelectField
          label="Which"
          value={condition.value === 'no' ? 'no' : 'yes'}
          choices={[
            ['yes', 'yes'],
            ['no', 'no'],
          ]}
          onChoose={(value) => onChange({ value })}
        />
      ) : condition.on === 'segment' ? (
        <SelectField
          label="Which"
          value={condition.value}
          choices={[['', 'choose one'], ...(segments ?? []).map((s) => [s.id, s.name] as const)]}
          onChoose={(value) => onChange({ value })}
        />
      ) : (
        condition.comparison !== 'isKept' && (
          <TextField
            label="What"
            placeholder={condition.on === 'page' ? '/workshops/**' : condition.on === 'language' ? 'nl' : ''}
            value={condition.value}
            maxLength={200}
            onText={(value) => onChange({ value })}
          />
        )
      )}
    </div>
  );
}
