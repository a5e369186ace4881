import { SelectField, Tick } from '../../kit/Field';
import { ListField } from '../../kit/ListField';
import type { FoundForm } from '../api';
import type { Mapping } from './FormEditor';

type Promised = NonNullable<Mapping['promise']>;

const NONE: Promised = { text: '', box: null, confirms: true, tags: [] };

/** Whether whoever sends the form is a lead, and what they agree to by sending it. */
export function FormPromise({ form, found, onForm }: { form: Mapping; found: FoundForm | undefined; onForm(form: Mapping): void }) {
  const promise = form.promise;
  const put = (change: Partial<Promised>) => onForm({ ...form, promise: { ...(promise ?? NONE), ...change } });
  const boxes = (found?.fields ?? []).filter((f) => f.mayLeave && f.type === 'checkbox').map((f) => [f.name, f.label || f.name] as const);
  const box = promise?.box ?? '';
  return (
    <fieldset className="grid gap-2">
      <legend className="mb-1 font-semibold">Leads</legend>
      <Tick checked={!!promise} onTick={(on) => onForm({ ...form, promise: on ? NONE : null })}>
        Whoever sends it is a lead
      </Tick>
      {promise && (
        <>
          <label className="grid gap-1">
            <span className="font-semibold">What they agree to, as it stands at the form</span>
            <textarea
              rows={3}
              maxLength={600}
              dir="auto"
              value={promise.text}
              placeholder="One letter a month. Leave whenever you like."
              className="resize-y placeholder:text-soft"
              onChange={(e) => put({ text: e.currentTarget.value })}
            />
            <span className="text-[12px] leading-4 text-soft">
              Kept word for word with each yes. Other words are another promise: change this when the form changes.
            </span>
          </label>
          <SelectField
            label="They agree by"
            value={box}
            choices={[
              ['', 'sending the form, under the words'],
              ...boxes.map(([name, label]) => [name, `ticking “${label}”`] as const),
              ...(box && !boxes.some(([name]) => name === box) ? [[box, `ticking “${box}”`] as const] : []),
            ]}
            onChoose={(name) => put({ box: name || null })}
          />
          <Tick checked={promise.confirms} onTick={(confirms) => put({ confirms })}>
            They confirm it by mail first
          </Tick>
          <ListField label="Tags" hint="With commas between" values={promise.tags} onValues={(tags) => put({ tags })} />
          {!form.email && !form.phone && (
            <p className="text-warn">Say above which field has the e-mail address or the phone: leads need one of them.</p>
          )}
        </>
      )}
    </fieldset>
  );
}
