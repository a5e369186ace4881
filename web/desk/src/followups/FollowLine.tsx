import { useMutation, useQuery } from '@tanstack/react-query';
import { say } from '../data/toasts';
import { Button } from '../kit/Button';
import { SelectField, TextField } from '../kit/Field';
import { Refused } from '../kit/Panel';
import { webhooksQuery } from '../leads/api';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { type FollowStep, type FollowUpDefinition, sendTestMail } from './api';
import { KINDS, minutesOf, turnedInto, waitOf, withWords, wordsOf } from './steps';

export type LineAct = 'up' | 'down' | 'new' | 'remove';

/** One step of a follow-up: its line, who is there, and, open, all of it. */
export function FollowLine({
  step,
  at,
  language,
  problems,
  isOpen,
  mayEdit,
  here,
  wentOn,
  onOpen,
  onChange,
  onAct,
}: {
  step: FollowStep;
  at: number;
  /** In which language words are written; empty for the site's own. */
  language: string;
  problems: FollowUpDefinition['problems'];
  isOpen: boolean;
  mayEdit: boolean;
  here: number;
  wentOn: number;
  onOpen(): void;
  onChange(step: FollowStep): void;
  onAct(act: LineAct): void;
}) {
  const words = wordsOf(step, language);
  const wait = waitOf(step.minutes);
  return (
    <li
      data-step={step.id}
      className={isOpen ? 'bg-selectwash' : ''}
      onKeyDown={(event) => {
        if (!mayEdit) return;
        if (event.altKey && (event.key === 'ArrowUp' || event.key === 'ArrowDown')) {
          event.preventDefault();
          onAct(event.key === 'ArrowUp' ? 'up' : 'down');
        } else if (event.key === 'Enter' && event.target instanceof HTMLInputElement && event.target.dataset.line) {
          event.preventDefault();
          onAct('new');
        }
      }}
    >
      <div className="flex min-h-10 items-center gap-2 border-b border-hair pe-4">
        <button
          type="button"
          aria-expanded={isOpen}
          aria-label={`Step ${at + 1}, all of it`}
          className="h-9 w-10 flex-none text-end font-mono text-[12px] text-soft hover:text-ink"
          onClick={onOpen}
        >
          {at + 1}
        </button>
        <select
          aria-label={`What step ${at + 1} does`}
          value={step.kind}
          disabled={!mayEdit}
          className="w-24 flex-none !border-transparent !bg-transparent font-semibold hover:!border-edge"
          onChange={(e) => onChange(turnedInto(step, e.currentTarget.value as FollowStep['kind']))}
        >
          {KINDS.map(([kind, said]) => (
            <option key={kind} value={kind}>
              {said}
            </option>
          ))}
        </select>
        {step.kind === 'wait' ? (
          <span className="flex min-w-0 flex-1 items-center gap-2">
            <input
              data-line="wait"
              type="number"
              aria-label={`How long step ${at + 1} waits`}
              min={1}
              max={wait.unit === 'days' ? 90 : 2_000}
              value={wait.count}
              disabled={!mayEdit}
              className="w-20"
              onChange={(e) => onChange({ ...step, minutes: minutesOf(Math.max(1, Number(e.currentTarget.value) || 1), wait.unit) })}
            />
            <select
              aria-label={`Unit of step ${at + 1}`}
              value={wait.unit}
              disabled={!mayEdit}
              onChange={(e) => onChange({ ...step, minutes: minutesOf(wait.count, e.currentTarget.value as typeof wait.unit) })}
            >
              {(['minutes', 'hours', 'days'] as const).map((unit) => (
                <option key={unit} value={unit}>
                  {wait.count === 1 ? unit.slice(0, -1) : unit}
                </option>
              ))}
            </select>
          </span>
        ) : step.kind === 'tag' || step.kind === 'tell' ? (
          <input
            data-line="tag"
            aria-label={step.kind === 'tag' ? `Tag of step ${at + 1}` : `By which word the webhook knows step ${at + 1}`}
            value={step.tag}
            maxLength={30}
            placeholder={step.kind === 'tag' ? 'Which tag' : 'A word for it, such as “came to the end”'}
            onFocus={step.kind === 'tell' ? onOpen : undefined}
            disabled={!mayEdit}
            className="min-w-0 flex-1 !border-transparent !bg-transparent font-display text-[16px] hover:!border-edge focus:!border-edge"
            onChange={(e) => onChange({ ...step, tag: e.currentTarget.value })}
          />
        ) : step.kind === 'text' ? (
          <input
            data-line="text"
            dir="auto"
            aria-label={`Text of step ${at + 1}`}
            // Several lines are written below, where they stay several.
            readOnly={words.text.includes('\n')}
            value={words.text}
            maxLength={600}
            placeholder={wordsOf(step, '').text || 'The whole message'}
            disabled={!mayEdit}
            className="min-w-0 flex-1 !border-transparent !bg-transparent font-display text-[16px] placeholder:text-soft hover:!border-edge focus:!border-edge"
            onFocus={onOpen}
            onChange={(e) => onChange(withWords(step, language, { text: e.currentTarget.value }))}
          />
        ) : (
          <input
            data-line="subject"
            dir="auto"
            aria-label={`Subject of step ${at + 1}`}
            value={words.subject}
            maxLength={120}
            placeholder={wordsOf(step, '').subject || 'Subject'}
            disabled={!mayEdit}
            className="min-w-0 flex-1 !border-transparent !bg-transparent font-display text-[16px] placeholder:text-soft hover:!border-edge focus:!border-edge"
            onFocus={onOpen}
            onChange={(e) => onChange(withWords(step, language, { subject: e.currentTarget.value }))}
          />
        )}
        <span className="w-36 flex-none text-end text-[12px] leading-4 text-soft">
          {here > 0 && <b className="font-semibold text-ink">{here} here</b>}
          {here > 0 && wentOn > 0 && ', '}
          {wentOn > 0 && `${wentOn} went on`}
        </span>
      </div>
      {problems.map((p) => (
        <p
          key={`${p.field}:${p.message}`}
          className={`border-b border-hair py-1 ps-12 pe-3 text-[12px] leading-4 ${p.blocks ? 'text-bad' : 'text-warn'}`}
        >
          <b>{p.blocks ? 'Stops publishing:' : 'Worth a look:'}</b> {p.message}
        </p>
      ))}
      {isOpen && (
        <fieldset disabled={!mayEdit} className="grid gap-3 border-b border-cobalt px-12 py-3">
          {(step.kind === 'mail' || step.kind === 'text') && (
            <label className="grid gap-1">
              <span className="font-semibold">{step.kind === 'text' ? 'The message' : 'Text'}</span>
              <textarea
                dir="auto"
                rows={step.kind === 'text' ? 3 : 6}
                maxLength={step.kind === 'text' ? 600 : 2_000}
                value={words.text}
                placeholder={wordsOf(step, '').text}
                className="resize-y leading-6"
                onChange={(e) => onChange(withWords(step, language, { text: e.currentTarget.value }))}
              />
              <span className="text-[12px] leading-4 text-soft">
                {step.kind === 'text'
                  ? 'It goes to whoever left a number. How to take it back is added. In how many parts it goes stands in the rehearsal. '
                  : 'An empty line begins a paragraph. '}
                {'{{ first_name | default: "there" }}'} is whoever reads it; fields of the prompt by their names.
              </span>
            </label>
          )}
          {step.kind === 'mail' && (
            <div className="grid gap-3 md:grid-cols-2">
              <TextField
                label="Button"
                placeholder="none"
                value={words.button}
                maxLength={40}
                onText={(button) => onChange(withWords(step, language, { button }))}
              />
              <TextField label="It leads to" placeholder="https://" value={step.link} onText={(link) => onChange({ ...step, link })} />
            </div>
          )}
          {step.kind === 'tell' && <TellFields step={step} onChange={onChange} />}
          {mayEdit && (
            <p className="flex gap-4">
              <Button kind="link" onClick={() => onAct('new')}>
                New step below
              </Button>
              {step.kind === 'mail' && <SendToMe step={step} language={language} />}
              <Button kind="link" className="!text-bad" onClick={() => onAct('remove')}>
                Remove step {at + 1}
              </Button>
            </p>
          )}
        </fieldset>
      )}
    </li>
  );
}

/** Which webhook is told. */
function TellFields({ step, onChange }: { step: FollowStep; onChange(step: FollowStep): void }) {
  const { site, member } = useDesk();
  const mayChoose = mayAct(member, 'connect');
  const { data: hooks } = useQuery({ ...webhooksQuery(site.id), enabled: mayChoose });
  const value = step.webhookId ?? '';
  const choices: [string, string][] = [['', 'choose one'], ...(hooks ?? []).map((h): [string, string] => [h.id, h.name])];
  if (!choices.some(([id]) => id === value)) choices.push([value, hooks ? 'a webhook that is gone' : 'a webhook']);
  return (
    <div className="grid gap-1">
      {mayChoose && (
        <SelectField
          label="Which webhook"
          value={value}
          choices={choices}
          onChoose={(id) => onChange({ ...step, webhookId: id || null })}
        />
      )}
      <p className="text-[12px] leading-4 text-soft">
        It gets a signed message “lead.reached” with the person, the follow-up, this step and its word.{' '}
        {mayChoose ? 'Webhooks are added under Leads.' : 'Whoever may connect sources chooses it.'}
      </p>
    </div>
  );
}

/** The mail as it would come, sent to oneself. */
function SendToMe({ step, language }: { step: FollowStep; language: string }) {
  const { site } = useDesk();
  const send = useMutation({
    mutationFn: () => sendTestMail(site.id, step, language),
    onSuccess: ({ to }) => say(`It is on its way to ${to}.`),
  });
  return (
    <>
      <Button kind="link" disabled={send.isPending} onClick={() => send.mutate()}>
        Send it to me
      </Button>
      <Refused error={send.error} />
    </>
  );
}
