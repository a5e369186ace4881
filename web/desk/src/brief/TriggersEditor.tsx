import { X } from 'lucide-react';
import { PointedChoice } from '../catalogue/PointedChoice';
import { Button } from '../kit/Button';
import { CopyButton } from '../kit/Copy';
import { Choice, NumberField, Tick } from '../kit/Field';
import { TypedInput } from '../kit/Typed';
import { useRowKeys } from '../kit/useRowKeys';
import type { Brief } from './types';
import { startTrigger, TRIGGERS, type Trigger, type TriggerKind } from './when';

type When = Brief['when'];
const KINDS = Object.keys(TRIGGERS) as TriggerKind[];

/** What has to happen on the page before it appears. */
export function TriggersEditor({
  when,
  shows,
  asks,
  onChange,
}: {
  when: Pick<When, 'triggers' | 'join' | 'onlyIfAvailable'>;
  /** What the page's own script calls it by. */
  shows: string;
  /** Whether it is a prompt, which a button of the page may be marked for. */
  asks?: boolean;
  onChange(change: Partial<Pick<When, 'triggers' | 'join' | 'onlyIfAvailable'>>): void;
}) {
  const { triggers } = when;
  const mark = `data-outcry-ask="${shows}"`;
  const pressed: Trigger = { ...startTrigger('click'), target: `[${mark}]` };
  const isMarked = triggers.some((t) => t.kind === 'click' && t.target === pressed.target);
  const call = `outcry.push(['show', '${shows}'])`;
  const rows = useRowKeys(triggers.length);
  const set = (place: number, trigger: Trigger) => onChange({ triggers: triggers.map((t, i) => (i === place ? trigger : t)) });
  return (
    <div className="grid gap-3">
      {triggers.length > 1 && (
        <Choice
          legend="It appears once"
          value={when.join}
          choices={[
            ['all', 'all of it has happened'],
            ['any', 'any of it has happened'],
          ]}
          onChoose={(join) => onChange({ join })}
        />
      )}
      {triggers.length === 0 && <p>On arrival, at once. That can be jarring: most people have not yet read a word.</p>}
      <ul className="grid gap-2">
        {triggers.map((trigger, place) => (
          <li key={rows.keys[place]} className="grid gap-1 border-b border-hair pb-2">
            <div className="flex items-center gap-1">
              <select
                aria-label={`Condition ${place + 1}`}
                value={trigger.kind}
                className="min-w-0 flex-1"
                onChange={(e) => set(place, startTrigger(e.currentTarget.value as TriggerKind))}
              >
                {KINDS.map((kind) => (
                  <option key={kind} value={kind}>
                    {TRIGGERS[kind].name}
                  </option>
                ))}
              </select>
              <button
                type="button"
                aria-label={`Remove condition ${place + 1}`}
                className="grid h-8 w-8 place-items-center"
                onClick={() => {
                  rows.removed(place);
                  onChange({ triggers: triggers.filter((_, i) => i !== place) });
                }}
              >
                <X className="h-4 w-4" />
              </button>
            </div>
            <TriggerValue key={trigger.kind} trigger={trigger} onChange={(t) => set(place, t)} />
          </li>
        ))}
      </ul>
      <p>
        <Button onClick={() => onChange({ triggers: [...triggers, startTrigger(triggers.length === 0 ? 'seconds' : 'scroll')] })}>
          Add a condition
        </Button>
      </p>
      {asks && !isMarked && (
        <p>
          <Button kind="link" onClick={() => onChange({ triggers: [...triggers, pressed], join: 'any' })}>
            A button of your page may ask for it, too
          </Button>
        </p>
      )}
      {asks && isMarked && (
        <div className="grid gap-1">
          <p className="text-soft">
            Mark a button of your page with this, and a press on it opens the prompt, for whoever has said yes as well.
          </p>
          <CodeLine code={mark} />
        </div>
      )}
      {triggers.some((t) => t.kind === 'click') && (
        <p className="text-soft">What a visitor clicks for comes at once, whatever hush or limit holds it back otherwise.</p>
      )}
      <div className="grid gap-1 border-t border-hair pt-2">
        <p className="text-soft">Your page can also call it, as from a button of its own, for whoever it is for. It then comes at once.</p>
        <CodeLine code={call} />
      </div>
      <Tick checked={when.onlyIfAvailable} onTick={(onlyIfAvailable) => onChange({ onlyIfAvailable })}>
        Only while somebody of the team has a desk open
      </Tick>
    </div>
  );
}

/** Something to be put into the page's own code. */
function CodeLine({ code }: { code: string }) {
  return (
    <p className="flex flex-wrap items-center gap-2">
      <code className="font-mono text-[12px] break-all">{code}</code>
      <CopyButton kind="link" text={code}>
        Copy
      </CopyButton>
    </p>
  );
}

function TriggerValue({ trigger, onChange }: { trigger: Trigger; onChange(trigger: Trigger): void }) {
  const { number, target } = TRIGGERS[trigger.kind];
  if (number)
    return (
      <NumberField
        label=""
        aria-label="How many"
        value={trigger.number}
        min={number.min}
        max={number.max}
        after={number.after}
        onValue={(n) => onChange({ ...trigger, number: n })}
      />
    );
  if (!target) return <p className="text-soft">The pointer leaves through the top edge; on touch, a tab switch or a fast flick up.</p>;
  const isElement = trigger.kind !== 'pageEvent';
  return (
    <div className="grid gap-2">
      <label className="grid gap-1">
        {target.label}
        <TypedInput
          className="font-mono text-[12.5px]"
          value={trigger.target}
          maxLength={300}
          onValue={(target) => onChange({ ...trigger, target })}
        />
      </label>
      {isElement && <PointedChoice onChoose={(selector) => onChange({ ...trigger, target: selector })} />}
    </div>
  );
}
