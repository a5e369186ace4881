import { ArrowDown, ArrowUp, X } from 'lucide-react';
import { useState } from 'react';
import { Button } from '../kit/Button';
import { SelectField, TextField, Tick } from '../kit/Field';
import { languageName } from '../kit/languages';
import { useDesk } from '../session/desk';
import { FIELDS } from './asking';
import { type Ask, withWords, wordsOf } from './askWords';

type Field = Ask['fields'][number];
type Kind = Field['kind'];
type Change = (ask: Ask) => void;

const KINDS = Object.keys(FIELDS) as Kind[];
const CHOSEN: readonly Kind[] = ['choice', 'choices'];
const NAMED: readonly Kind[] = ['email', 'phone', 'firstName', 'surname'];

/** A name under which an answer is kept, out of what is asked. */
function keyOf(kind: Kind, label: string, taken: readonly string[]): string {
  const base = NAMED.includes(kind)
    ? kind.replace(/[A-Z]/g, (c) => `_${c.toLowerCase()}`)
    : label
        .normalize('NFD')
        .toLowerCase()
        .replace(/[^a-z0-9]+/g, '_')
        .replace(/^[^a-z]+|_+$/g, '')
        .slice(0, 32) || 'answer';
  let key = base;
  for (let n = 2; taken.includes(key); n++) key = `${base}_${n}`;
  return key;
}

/** The fields in order: what is asked, whether it must be given, and its words in each language. */
export function FieldsEditor({ ask, languages, onChange }: { ask: Ask; languages: readonly string[]; onChange: Change }) {
  const { site } = useDesk();
  const [open, setOpen] = useState<string>();
  const [said, setSaid] = useState('');
  const put = (fields: Field[]) => onChange({ ...ask, fields });
  const change = (id: string, to: Partial<Field>) => put(ask.fields.map((f) => (f.id === id ? { ...f, ...to } : f)));
  function move(at: number, by: number) {
    const fields = [...ask.fields];
    const [field] = fields.splice(at, 1);
    if (!field || at + by < 0 || at + by > fields.length) return;
    fields.splice(at + by, 0, field);
    put(fields);
    setSaid(`${FIELDS[field.kind]} is number ${at + by + 1} of ${ask.fields.length}.`);
  }
  return (
    <div className="grid gap-2">
      <ol aria-label="Fields" className="border-t border-hair">
        {ask.fields.map((field, at) => (
          <li
            key={field.id}
            className="border-b border-hair py-1.5"
            onKeyDown={(event) => {
              if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return;
              event.preventDefault();
              move(at, event.key === 'ArrowUp' ? -1 : 1);
            }}
          >
            <span className="flex items-center gap-2">
              <button
                type="button"
                aria-expanded={open === field.id}
                className="min-w-0 flex-1 truncate text-start font-semibold"
                onClick={() => setOpen(open === field.id ? undefined : field.id)}
              >
                {field.words.find((w) => w.language === '')?.label || FIELDS[field.kind]}
              </button>
              <Tick checked={field.required} onTick={(required) => change(field.id, { required })}>
                must be given
              </Tick>
              <IconButton label={`Move ${FIELDS[field.kind]} up`} disabled={at === 0} onDo={() => move(at, -1)}>
                <ArrowUp className="h-4 w-4" />
              </IconButton>
              <IconButton label={`Move ${FIELDS[field.kind]} down`} disabled={at === ask.fields.length - 1} onDo={() => move(at, 1)}>
                <ArrowDown className="h-4 w-4" />
              </IconButton>
              <IconButton label={`Remove ${FIELDS[field.kind]}`} onDo={() => put(ask.fields.filter((f) => f !== field))}>
                <X className="h-4 w-4" />
              </IconButton>
            </span>
            {open === field.id && (
              <div className="grid gap-2 py-2">
                {['', ...languages].map((language) => (
                  <FieldWords
                    key={language}
                    field={field}
                    language={language}
                    name={languageName(language || site.language)}
                    onChange={(words) => change(field.id, { words })}
                  />
                ))}
                <p className="text-[12px] text-soft">
                  Kept as <code className="font-mono">{field.key}</code>. Alt with the arrow keys moves it.
                </p>
              </div>
            )}
          </li>
        ))}
      </ol>
      <SelectField<Kind | ''>
        label="Ask for"
        value=""
        choices={[['', 'add a field'], ...KINDS.map((k) => [k, FIELDS[k]] as const)]}
        onChoose={(kind) => {
          if (!kind) return;
          const taken = [...ask.fields.map((f) => f.key), ...ask.hidden.map((h) => h.key)];
          const field: Field = {
            id: crypto.randomUUID(),
            kind: kind,
            key: keyOf(kind, kind, taken),
            required: kind === 'email' || kind === 'phone',
            words: NAMED.includes(kind) ? [] : [{ language: '', label: '', choices: CHOSEN.includes(kind) ? ['This', 'That'] : [] }],
          };
          put([...ask.fields, field]);
          setOpen(field.id);
        }}
      />
      <TextField
        label="Button"
        value={wordsOf(ask, '').button}
        maxLength={40}
        dir="auto"
        onChange={(e) => onChange(withWords(ask, '', { button: e.currentTarget.value }))}
      />
      {languages.map((l) => (
        <TextField
          key={l}
          label={`Button, ${languageName(l)}`}
          value={wordsOf(ask, l).button}
          maxLength={40}
          dir="auto"
          onChange={(e) => onChange(withWords(ask, l, { button: e.currentTarget.value }))}
        />
      ))}
      <p role="status" className="sr-only">
        {said}
      </p>
    </div>
  );
}

function FieldWords({
  field,
  language,
  name,
  onChange,
}: {
  field: Field;
  language: string;
  name: string;
  onChange(words: Field['words']): void;
}) {
  const words = field.words.find((w) => w.language === language) ?? {
    language,
    label: '',
    choices: field.words.find((w) => w.language === '')?.choices ?? [],
  };
  const put = (to: Partial<typeof words>) =>
    onChange(
      [...field.words.filter((w) => w.language !== language), { ...words, ...to }].sort((a, b) => a.language.localeCompare(b.language)),
    );
  return (
    <div className="grid gap-1">
      <TextField
        label={`${field.kind === 'consent' ? 'What they tick' : 'What it is called'}, ${name}`}
        placeholder={NAMED.includes(field.kind) ? 'the built-in name' : ''}
        value={words.label}
        maxLength={field.kind === 'consent' ? 300 : 80}
        dir="auto"
        onChange={(e) => put({ label: e.currentTarget.value })}
      />
      {CHOSEN.includes(field.kind) && (
        <label className="grid gap-1">
          Choices, one on each line
          <textarea
            rows={Math.max(3, words.choices.length + 1)}
            dir="auto"
            value={words.choices.join('\n')}
            className="w-full"
            onChange={(e) => put({ choices: e.currentTarget.value.split('\n').slice(0, 20) })}
            onBlur={(e) =>
              put({
                choices: e.currentTarget.value
                  .split('\n')
                  .map((c) => c.trim())
                  .filter(Boolean),
              })
            }
          />
        </label>
      )}
    </div>
  );
}

/** What is kept besides: fixed values, or parameters of the page's address. */
export function HiddenEditor({ ask, onChange }: { ask: Ask; onChange: Change }) {
  const put = (hidden: Ask['hidden']) => onChange({ ...ask, hidden });
  return (
    <div className="grid gap-2">
      <p className="text-[12px] text-soft">
        At most 200 characters each. The campaign by which they came is kept with the lead in any case. Passwords, tokens and card numbers
        never are. Of the page they came in by it is known once this is live.
      </p>
      {ask.hidden.map((field, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: what is typed into is the row, whatever it is called meanwhile.
        <div key={at} className="flex flex-wrap items-end gap-2">
          <TextField
            label="Kept as"
            value={field.key}
            maxLength={40}
            onChange={(e) => put(ask.hidden.map((h, i) => (i === at ? { ...h, key: e.currentTarget.value } : h)))}
          />
          <TextField
            label="From the parameter"
            value={field.parameter}
            maxLength={80}
            onChange={(e) => put(ask.hidden.map((h, i) => (i === at ? { ...h, parameter: e.currentTarget.value, value: '' } : h)))}
          />
          {field.value === '' && (
            <SelectField
              label="of the address of"
              value={field.ofEntry ? 'entry' : 'page'}
              choices={[
                ['page', 'the page they are on'],
                ['entry', 'the page they came in by'],
              ]}
              onChoose={(of) => put(ask.hidden.map((h, i) => (i === at ? { ...h, ofEntry: of === 'entry' } : h)))}
            />
          )}
          <TextField
            label="or always"
            value={field.value}
            maxLength={200}
            onChange={(e) => put(ask.hidden.map((h, i) => (i === at ? { ...h, value: e.currentTarget.value, parameter: '' } : h)))}
          />
          <IconButton label={`Remove ${field.key || 'it'}`} onDo={() => put(ask.hidden.filter((h) => h !== field))}>
            <X className="h-4 w-4" />
          </IconButton>
        </div>
      ))}
      <Button onClick={() => put([...ask.hidden, { key: '', value: '', parameter: '' }])}>Keep something besides</Button>
    </div>
  );
}

function IconButton({ label, disabled, onDo, children }: { label: string; disabled?: boolean; onDo(): void; children: React.ReactNode }) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      disabled={disabled}
      className="grid h-7 w-7 flex-none place-items-center rounded hover:bg-hair disabled:opacity-40"
      onClick={onDo}
    >
      {children}
    </button>
  );
}
