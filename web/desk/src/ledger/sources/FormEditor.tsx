import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useId, useState } from 'react';
import { PagePatterns } from '../../catalogue/PagePatterns';
import type { Schema } from '../../data/api';
import { Button } from '../../kit/Button';
import { SelectField, TextField, Tick } from '../../kit/Field';
import { Refused } from '../../kit/Panel';
import { day } from '../../kit/time';
import { useDesk } from '../../session/desk';
import { type FoundForm, findForms, formsQuery } from '../api';
import { FormPromise } from './FormPromise';

export type Mapping = Schema<'FormMapping'>;

const MEANS = [
  ['', 'not taken'],
  ['firstName', 'first or whole name'],
  ['lastName', 'last name'],
  ['email', 'e-mail address'],
  ['phone', 'phone'],
  ['product', 'product'],
  ['amount', 'amount'],
  ['keep', 'a field of its own'],
] as const;

/** How often is asked whether a visitor met one more form. */
const MET_EVERY_MS = 4_000;

const PARTS = ['firstName', 'lastName', 'email', 'phone', 'product', 'amount'] as const;

type Part = Exclude<(typeof MEANS)[number][0], '' | 'keep'>;

/** Picks a form by what it is and where it stands, and says what its fields mean. */
export function FormEditor({ form, onForm }: { form: Mapping | undefined; onForm(form: Mapping): void }) {
  const { site } = useDesk();
  const queries = useQueryClient();
  // The page with the form is open beside this, and what it says is kept a moment later.
  const forms = useQuery({ ...formsQuery(site.id), refetchInterval: MET_EVERY_MS });
  const [address, setAddress] = useState('');
  const which = useId();
  const find = useMutation({
    mutationFn: () => findForms(site.id, address),
    onSuccess: () => void queries.invalidateQueries({ queryKey: ['forms'] }),
  });
  const found = merge(forms.data?.forms ?? [], find.data?.forms ?? []);
  const chosen = found.find((f) => f.key === form?.form);
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-4">
      <fieldset className="grid min-w-0 grid-cols-[minmax(0,1fr)] gap-1">
        <legend className="mb-1 font-semibold">Which form</legend>
        {found.length === 0 && (
          <p className="text-soft">
            No form was met yet. Open a page with the form on your site and it appears here, or look at a page by its address:
          </p>
        )}
        {found.map((f) => (
          <label key={`${f.key} ${f.path}`} className="flex min-h-8 items-center gap-2 border-b border-hair">
            <input type="radio" name={which} checked={form?.form === f.key} onChange={() => onForm(f.guess)} />
            <span className="min-w-0 flex-1">
              <span className="block overflow-hidden text-ellipsis whitespace-nowrap">
                {f.key.startsWith('fields:') ? 'a form without a name' : f.key} <span className="text-soft">on {f.path}</span>
              </span>
              <span className="block overflow-hidden text-[12px] leading-4 text-ellipsis whitespace-nowrap text-soft">
                {f.fields.map((x) => x.label || x.name).join(', ')}
              </span>
            </span>
            <span className="text-[12px] whitespace-nowrap text-soft">
              {f.takes ? 'listened to' : f.sent > 0 && `sent ${times(f.sent)}`}
            </span>
          </label>
        ))}
        <div className="mt-1 flex items-end gap-2">
          <label className="grid min-w-0 flex-1 gap-1">
            Or a page's address
            <input
              value={address}
              onChange={(e) => setAddress(e.currentTarget.value)}
              placeholder={`${site.homeAddress}quote`}
              className="placeholder:text-soft"
            />
          </label>
          <Button onClick={() => find.mutate()} disabled={!address || find.isPending}>
            Look for forms
          </Button>
        </div>
        {find.data?.fault && (
          <p role="status" className="text-warn">
            {find.data.fault}
          </p>
        )}
        <Refused error={find.error} />
      </fieldset>
      {form && <Meanings form={form} found={chosen} onForm={onForm} />}
      {form && <Success form={form} onForm={onForm} />}
      {form && <FormPromise form={form} found={chosen} onForm={onForm} />}
      {form && chosen && chosen.sent > 0 && <Counted form={form} found={chosen} />}
    </div>
  );
}

const times = (n: number) => (n === 1 ? 'once' : `${n} times`);

/** What becomes of the sendings that were counted before anybody listened. */
function Counted({ form, found }: { form: Mapping; found: FoundForm }) {
  const since = found.sentSince ? `${times(found.sent)} since ${day(found.sentSince)}` : times(found.sent);
  return (
    <p role="status" className="border-s-4 border-edge ps-2">
      {(form.success?.sign ?? 'sent') === 'sent'
        ? `It was sent ${since}, before anybody listened. ${found.sent === 1 ? 'That counts' : 'Those count'} from the start, on the pages named above: time and page only, as nothing in the form was read.`
        : `It was sent ${since}, before anybody listened. Whether it went through was not looked at, so ${found.sent === 1 ? 'that is' : 'those are'} not counted.`}
    </p>
  );
}

function merge(known: FoundForm[], looked: FoundForm[]): FoundForm[] {
  const keys = new Set(looked.map((f) => `${f.key} ${f.path}`));
  // One form on every page (a newsletter in the foot) is listed once, with the page where it was met last.
  const all = [...looked, ...known.filter((f) => !keys.has(`${f.key} ${f.path}`))];
  return all.filter((f, place) => all.findIndex((x) => x.key === f.key) === place);
}

function Meanings({ form, found, onForm }: { form: Mapping; found: FoundForm | undefined; onForm(form: Mapping): void }) {
  const names = found?.fields ?? mapped(form).map((name) => ({ name, label: '', type: '', mayLeave: true }));
  const of = (name: string): string => PARTS.find((p) => form[p] === name) ?? (form.fields.includes(name) ? 'keep' : '');
  const guessOf = (name: string) => PARTS.find((p) => found?.guess[p] === name);
  function choose(name: string, meaning: string) {
    const next: Mapping = { ...form, fields: form.fields.filter((f) => f !== name) };
    for (const part of PARTS) if (next[part] === name || part === meaning) next[part] = part === meaning ? name : null;
    if (meaning === 'keep') next.fields = [...next.fields, name];
    onForm(next);
  }
  return (
    <fieldset className="grid gap-1">
      <legend className="mb-1 font-semibold">What its fields mean</legend>
      <p className="text-[12px] leading-4 text-soft">
        What is not taken never leaves the page. Passwords and cards cannot be taken at all.
      </p>
      <table className="w-full table-fixed">
        <tbody>
          {names.map((field) => (
            <tr key={field.name} className="border-b border-hair">
              <td className="w-[52%] py-1 pe-2">
                {field.label || field.name}
                <span className="block font-mono text-[12px] leading-4 text-soft">{field.name}</span>
              </td>
              <td className="py-1">
                {field.mayLeave ? (
                  <>
                    <SelectField
                      label={`${field.label || field.name} means`}
                      hideLabel
                      value={of(field.name) as Part}
                      choices={MEANS as unknown as readonly (readonly [Part, string])[]}
                      onChoose={(m) => choose(field.name, m)}
                    />
                    {of(field.name) === '' && guessOf(field.name) && (
                      <p className="mt-1 text-[12px] leading-4 text-warn">
                        Looks like {MEANS.find(([m]) => m === guessOf(field.name))?.[1]}, and is not taken.{' '}
                        <Button kind="link" onClick={() => choose(field.name, guessOf(field.name) ?? '')}>
                          Take it
                        </Button>
                      </p>
                    )}
                  </>
                ) : (
                  <i className="text-soft">never leaves the page</i>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {form.amount && (
        <label className="flex items-center gap-2">
          Currency
          <input
            className="w-20 uppercase"
            maxLength={3}
            value={form.currency ?? ''}
            placeholder="GBP"
            onChange={(e) => onForm({ ...form, currency: e.currentTarget.value.toUpperCase() })}
          />
        </label>
      )}
    </fieldset>
  );
}

const mapped = (form: Mapping) =>
  [form.firstName, form.lastName, form.email, form.phone, form.product, form.amount, ...form.fields].filter((f): f is string => !!f);

/** On which pages the form counts, and by what one knows that it went through. */
function Success({ form, onForm }: { form: Mapping; onForm(form: Mapping): void }) {
  const sign = form.success?.sign ?? 'sent';
  const name = useId();
  return (
    <>
      <PagePatterns
        title="Counts on"
        empty="Wherever the form stands"
        patterns={form.pages}
        onChange={(pages) => onForm({ ...form, pages })}
      />
      <fieldset className="grid gap-1">
        <legend className="mb-1 font-semibold">It counts when</legend>
        {(
          [
            ['sent', 'the browser finds it valid and sends it'],
            ['page', 'a thank-you page follows within ten minutes'],
            ['element', 'an element shows within a minute'],
          ] as const
        ).map(([value, words]) => (
          <label key={value} className="flex min-h-7 items-center gap-2">
            <input
              type="radio"
              name={name}
              checked={sign === value}
              onChange={() => onForm({ ...form, success: { sign: value, target: form.success?.target ?? '' } })}
            />
            {words}
          </label>
        ))}
        {sign !== 'sent' && (
          <TextField
            label={sign === 'page' ? 'Thank-you page' : 'Element'}
            placeholder={sign === 'page' ? '/quote/thanks' : '.sent'}
            value={form.success?.target ?? ''}
            onText={(target) => onForm({ ...form, success: { sign, target } })}
          />
        )}
      </fieldset>
    </>
  );
}

/** Which of the form's own fields visitors may read. */
export function ShownFields({
  own,
  shown,
  onShown,
}: {
  own: readonly string[];
  shown: readonly string[];
  onShown(fields: string[]): void;
}) {
  if (own.length === 0) return null;
  return (
    <fieldset className="grid gap-1">
      <legend className="mb-1 font-semibold">Fields that visitors may read</legend>
      {own.map((field) => (
        <Tick
          key={field}
          checked={shown.includes(field)}
          onTick={(on) => onShown(on ? [...shown, field] : shown.filter((f) => f !== field))}
        >
          <code className="font-mono text-[12.5px]">{field}</code>
        </Tick>
      ))}
    </fieldset>
  );
}
