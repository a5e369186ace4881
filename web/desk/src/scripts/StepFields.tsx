import { useQuery } from '@tanstack/react-query';
import { segmentsQuery } from '../callouts/api';
import { useDesk } from '../session/desk';
import { Button } from '../ui/Button';
import { NumberField, SelectField, TextField, Tick } from '../ui/Field';
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
];

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
      {step.kind === 'offer' && (
        <TextField label="Address" placeholder="https:// or /page" value={step.value} onText={(value) => onChange({ ...step, value })} />
      )}
      {step.kind === 'goTo' && (
        <SelectField
          label="Goes to"
          value={step.target ?? ''}
          choices={targets}
          onChoose={(target) => onChange({ ...step, target: target || null })}
        />
      )}
      {step.kind === 'handOver' && (
        <>
          <SelectField
            label="To"
            value={step.to === 'fewestTalks' ? 'fewestTalks' : 'whoeverIsHere'}
            choices={[
              ['whoeverIsHere', 'whoever is here'],
              ['fewestTalks', 'whoever has the fewest talks'],
            ]}
            onChoose={(to) => onChange({ ...step, to })}
          />
          <p className="text-[12px] leading-4 text-soft">Steps that stand deeper below it are taken when nobody is here.</p>
        </>
      )}
      {mayEdit && (
        <p className="flex gap-4">
          <Button kind="link" onClick={() => onAct('new')}>
            New step below
          </Button>
          {steps.length > 1 && (
            <Button kind="link" className="!text-bad" onClick={() => onAct('remove')} aria-label={`Remove step ${at + 1}`}>
              Remove it
            </Button>
          )}
        </p>
      )}
    </fieldset>
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
        <b className="font-semibold">Ready replies, and where each leads</b>
        {replies.map((reply, i) => (
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
        {replies.length < 8 && (
          <p>
            <Button kind="link" onClick={() => putWords({ replies: [...replies, ''] })}>
              Add a reply
            </Button>
          </p>
        )}
      </div>
      <div className="grid content-start gap-2">
        <SelectField label="Asks for" value={ask.kind} choices={ASKS} onChoose={(kind) => put({ kind })} />
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
