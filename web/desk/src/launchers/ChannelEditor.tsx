import { Button } from '../kit/Button';
import { Choice, SelectField, TextField, Tick } from '../kit/Field';
import { languageName } from '../kit/languages';
import type { Channel, Launcher } from './api';
import { Problems } from './Problems';
import { CHANNELS } from './words';

type Field = Channel['fields'][number]['field'];
const FIELDS: readonly (readonly [Field, string])[] = [
  ['name', 'Name'],
  ['email', 'E-mail'],
  ['phone', 'Phone'],
  ['message', 'Message'],
];
const DEVICES = [
  ['phone', 'phones'],
  ['tablet', 'tablets'],
  ['desktop', 'desktops'],
] as const;

/** What a way to talk needs, checked, with a try that opens it as a visitor would. */
export function ChannelEditor({
  channel,
  opens,
  problems,
  place,
  onChange,
  onRemove,
}: {
  channel: Channel;
  /** Where it leads, as saved last. */
  opens: Launcher['opens'][number] | undefined;
  problems: Launcher['problems'];
  place: number;
  onChange(change: Partial<Channel>): void;
  onRemove(): void;
}) {
  const { kind } = channel;
  const { name, what, target, placeholder } = CHANNELS[kind];
  const isWritten = kind === 'chat' || kind === 'form';
  return (
    <div className="grid gap-3">
      <p className="text-soft">{what}</p>
      {target && (
        <TextField
          label={target}
          value={channel.target}
          placeholder={placeholder}
          maxLength={300}
          onText={(text) => onChange({ target: text })}
        />
      )}
      {kind === 'messenger' && (
        <>
          <TextField
            label="Link of its web version"
            hint="With {handle}, {number} and {text} where they go."
            value={channel.webLink}
            maxLength={300}
            placeholder="https://chat.studio.com/{handle}?text={text}"
            onText={(webLink) => onChange({ webLink })}
          />
          <TextField
            label="Link that opens the app, tried first"
            hint="Empty for none; the web version follows where no app answers."
            value={channel.appLink}
            maxLength={300}
            placeholder="app://chat?to={handle}&text={text}"
            onText={(appLink) => onChange({ appLink })}
          />
        </>
      )}
      {!isWritten && <Accepted channel={channel} opens={opens} problems={problems} />}
      <TextField
        label="Its name in the panel"
        hint={`Empty for the built-in word, in each visitor's language: ${name}`}
        value={channel.label}
        maxLength={40}
        onText={(label) => onChange({ label })}
      />
      {channel.translations.map((t, i) => (
        <TextField
          key={t.language}
          label={`In ${languageName(t.language)}`}
          value={t.label}
          maxLength={40}
          dir="auto"
          onText={(label) => onChange({ translations: channel.translations.map((o, j) => (j === i ? { ...o, label } : o)) })}
        />
      ))}
      {(kind === 'email' || kind === 'text' || kind === 'messenger') && (
        <TextField
          label="Words it begins with"
          hint="Empty for none. {{ page }} is the page's address, {{ site }} the site's name."
          value={channel.prefill}
          maxLength={300}
          onText={(prefill) => onChange({ prefill })}
        />
      )}
      {kind === 'form' && <FieldsEditor fields={channel.fields} onChange={(fields) => onChange({ fields })} />}
      <Choice
        legend="Offered"
        value={channel.hours}
        choices={[
          ['always', isWritten ? 'always; while closed as a message left' : 'always'],
          ['whileOpen', 'while the launcher is open'],
          ['own', 'at hours of its own'],
        ]}
        onChoose={(hours) => onChange({ hours, week: hours === 'own' && channel.week.length === 0 ? WORKWEEK : channel.week })}
      />
      {channel.hours === 'own' && <OwnHours week={channel.week} onChange={(week) => onChange({ week })} />}
      <fieldset className="flex flex-wrap gap-x-4">
        <legend className="font-semibold">Not offered on</legend>
        {DEVICES.map(([device, words]) => (
          <Tick
            key={device}
            checked={channel.hiddenOn.includes(device)}
            onTick={(on) => onChange({ hiddenOn: on ? [...channel.hiddenOn, device] : channel.hiddenOn.filter((d) => d !== device) })}
          >
            {words}
          </Tick>
        ))}
      </fieldset>
      {kind === 'link' && (
        <Tick checked={channel.newWindow} onTick={(newWindow) => onChange({ newWindow })}>
          In a window of its own
        </Tick>
      )}
      <Problems problems={problems.filter((p) => p.field !== `channels[${place}].target`)} of={[`channels[${place}]`]} />
      <p>
        <Button kind="danger" onClick={onRemove}>
          Remove {channel.label || name}
        </Button>
      </p>
    </div>
  );
}

const WORKWEEK: Channel['week'] = (['monday', 'tuesday', 'wednesday', 'thursday', 'friday'] as const).map((day) => ({
  day,
  from: '09:00:00',
  until: '17:00:00',
}));

/** Whether the address was accepted, and the way to try it. */
function Accepted({
  channel,
  opens,
  problems,
}: {
  channel: Channel;
  opens: Launcher['opens'][number] | undefined;
  problems: Launcher['problems'];
}) {
  if (channel.target === '' && channel.webLink === '') return null;
  // What the server said of the draft as it was saved last.
  if (!opens || opens.problem)
    return (
      <p role="status" className="text-[12px] leading-4 text-bad">
        {opens?.problem ?? problems[0]?.message ?? 'Being checked'}
      </p>
    );
  return (
    <p role="status" className="flex flex-wrap items-center gap-x-3 text-good">
      <span className="font-semibold">Accepted{opens.number ? `: ${opens.number}` : ''}</span>
      <a href={opens.address} target="_blank" rel="noopener noreferrer" className="font-semibold text-cobalt hover:underline">
        Try it
      </a>
      <span className="text-[12px] text-soft">opens as a visitor would; not counted</span>
    </p>
  );
}

function FieldsEditor({ fields, onChange }: { fields: Channel['fields']; onChange(fields: Channel['fields']): void }) {
  return (
    <fieldset className="grid gap-1">
      <legend className="font-semibold">Fields</legend>
      {FIELDS.map(([field, words]) => {
        const asked = fields.find((f) => f.field === field);
        return (
          <SelectField
            key={field}
            label={words}
            value={asked ? (asked.needed ? 'needed' : 'asked') : 'no'}
            choices={[
              ['no', 'not asked'],
              ['asked', 'asked'],
              ['needed', 'asked and needed'],
            ]}
            onChoose={(how) => {
              const rest = fields.filter((f) => f.field !== field);
              const next = how === 'no' ? rest : [...rest, { field, needed: how === 'needed' }];
              onChange(FIELDS.flatMap(([f]) => next.filter((n) => n.field === f)));
            }}
          />
        );
      })}
    </fieldset>
  );
}

const DAYS: readonly (readonly [Channel['week'][number]['day'], string])[] = [
  ['monday', 'Mon'],
  ['tuesday', 'Tue'],
  ['wednesday', 'Wed'],
  ['thursday', 'Thu'],
  ['friday', 'Fri'],
  ['saturday', 'Sat'],
  ['sunday', 'Sun'],
];

function OwnHours({ week, onChange }: { week: Channel['week']; onChange(week: Channel['week']): void }) {
  return (
    <div className="grid gap-1">
      {DAYS.map(([day, words]) => {
        const span = week.find((s) => s.day === day);
        const put = (change: Partial<Channel['week'][number]>) => onChange(week.map((s) => (s.day === day ? { ...s, ...change } : s)));
        return (
          <div key={day} className="flex items-center gap-2">
            <span className="w-20">
              <Tick
                checked={!!span}
                onTick={(on) => onChange(on ? [...week, { day, from: '09:00:00', until: '17:00:00' }] : week.filter((s) => s.day !== day))}
              >
                {words}
              </Tick>
            </span>
            {span && (
              <>
                <input
                  type="time"
                  aria-label={`${words}, from`}
                  value={span.from.slice(0, 5)}
                  onChange={(e) => e.currentTarget.value && put({ from: `${e.currentTarget.value}:00` })}
                />
                <span aria-hidden="true">–</span>
                <input
                  type="time"
                  aria-label={`${words}, until`}
                  value={span.until.slice(0, 5)}
                  onChange={(e) => e.currentTarget.value && put({ until: `${e.currentTarget.value}:00` })}
                />
              </>
            )}
          </div>
        );
      })}
    </div>
  );
}
