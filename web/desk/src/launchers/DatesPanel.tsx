import { useMutation } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { Dialog } from 'radix-ui';
import { type ReactNode, useState } from 'react';
import type { Schema } from '../data/api';
import { Button } from '../kit/Button';
import { TextField, Tick } from '../kit/Field';
import { Refused } from '../kit/Panel';
import { plural } from '../kit/plural';
import { useDesk } from '../session/desk';
import { type LauncherBrief, readCalendar } from './api';

type Hours = LauncherBrief['hours'];
type Dated = Schema<'DatedSpan'>;

/** Closed dates, extra openings, and dates from a calendar file, looked at before they are taken. */
export function DatesPanel({
  hours,
  mayEdit,
  onChange,
  onClose,
}: {
  hours: Hours;
  mayEdit: boolean;
  onChange(change: Partial<Hours>): void;
  onClose(): void;
}) {
  return (
    <Dialog.Root open modal={false} onOpenChange={(on) => !on && onClose()}>
      <Dialog.Portal>
        <Dialog.Content
          aria-describedby={undefined}
          data-draft
          className="fixed top-16 left-1/2 z-50 max-h-[80vh] w-[620px] max-w-[calc(100vw-24px)] -translate-x-1/2 overflow-auto rounded border border-ink bg-sheet p-4 shadow-lg"
        >
          <div className="flex items-baseline gap-3">
            <Dialog.Title className="text-[17px] leading-6">Closed dates and extra openings</Dialog.Title>
            <span className="text-soft">all times in {hours.zone}</span>
            <Dialog.Close aria-label="Close" className="ms-auto grid h-8 w-8 place-items-center rounded hover:bg-sheet2">
              <X className="h-4 w-4" />
            </Dialog.Close>
          </div>
          <Dates
            title="Closed, whatever the week says"
            none="No date is closed."
            dates={hours.closed}
            mayEdit={mayEdit}
            onDates={(closed) => onChange({ closed })}
          />
          <Dates
            title="Open beside, which wins over closed dates too"
            none="No opening beside the week's."
            dates={hours.extra}
            mayEdit={mayEdit}
            onDates={(extra) => onChange({ extra })}
          />
          {mayEdit && <CalendarImport hours={hours} onChange={onChange} />}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

const isWholeDays = ({ from, until }: Dated) => from.slice(11, 16) === '00:00' && until.slice(11, 16) === '00:00';

const dayBefore = (until: string) => {
  const day = new Date(`${until.slice(0, 10)}T12:00:00Z`);
  day.setUTCDate(day.getUTCDate() - 1);
  return day.toISOString().slice(0, 10);
};

const dayAfter = (last: string) => {
  const day = new Date(`${last}T12:00:00Z`);
  day.setUTCDate(day.getUTCDate() + 1);
  return day.toISOString().slice(0, 10);
};

const DATE = new Intl.DateTimeFormat('en-GB', { weekday: 'short', day: 'numeric', month: 'short', year: 'numeric', timeZone: 'UTC' });
const sayDay = (day: string) => DATE.format(new Date(`${day.slice(0, 10)}T12:00:00Z`));

/** "Thu 24 Dec 2026 to Sat 2 Jan 2027", or with its times. */
export function datedWords(span: Dated): string {
  if (!isWholeDays(span))
    return span.from.slice(0, 10) === span.until.slice(0, 10)
      ? `${sayDay(span.from)}, ${span.from.slice(11, 16)} to ${span.until.slice(11, 16)}`
      : `${sayDay(span.from)}, ${span.from.slice(11, 16)} to ${sayDay(span.until)}, ${span.until.slice(11, 16)}`;
  const last = dayBefore(span.until);
  return last === span.from.slice(0, 10) ? sayDay(span.from) : `${sayDay(span.from)} to ${sayDay(last)}`;
}

function Dates({
  title,
  none,
  dates,
  mayEdit,
  onDates,
}: {
  title: string;
  none: string;
  dates: readonly Dated[];
  mayEdit: boolean;
  onDates(dates: Dated[]): void;
}) {
  const [adding, setAdding] = useState(false);
  const sorted = [...dates].sort((a, b) => a.from.localeCompare(b.from));
  return (
    <section aria-label={title} className="mt-3 border-t border-hair pt-3">
      <h3 className="font-sans text-[13px] font-semibold tracking-normal">{title}</h3>
      {sorted.length === 0 && <p className="text-soft">{none}</p>}
      <ul>
        {sorted.map((span) => (
          <li key={`${span.uid} ${span.from} ${span.name}`} className="flex items-center gap-3 border-b border-hair py-0.5">
            <span className="w-[260px] flex-none max-sm:w-auto">{datedWords(span)}</span>
            <span className="min-w-0 flex-1 text-soft">{span.name}</span>
            {mayEdit && (
              <button
                type="button"
                aria-label={`Remove ${span.name}, ${datedWords(span)}`}
                className="grid h-8 w-8 place-items-center rounded hover:bg-hair"
                onClick={() => onDates(dates.filter((d) => d !== span))}
              >
                <X className="h-4 w-4" />
              </button>
            )}
          </li>
        ))}
      </ul>
      {mayEdit &&
        (adding ? (
          <AddDate
            onAdd={(span) => {
              onDates([...dates, span]);
              setAdding(false);
            }}
            onCancel={() => setAdding(false)}
          />
        ) : (
          <p className="mt-2">
            <Button onClick={() => setAdding(true)}>Add a date</Button>
          </p>
        ))}
    </section>
  );
}

function AddDate({ onAdd, onCancel }: { onAdd(span: Dated): void; onCancel(): void }) {
  const [name, setName] = useState('');
  const [first, setFirst] = useState('');
  const [last, setLast] = useState('');
  const [hasTimes, setTimes] = useState(false);
  const [times, putTimes] = useState({ from: '09:00', until: '17:00' });
  const end = last || first;
  const until = hasTimes ? `${end}T${times.until}:00` : `${first ? dayAfter(end) : ''}T00:00:00`;
  const from = hasTimes ? `${first}T${times.from}:00` : `${first}T00:00:00`;
  const isRight = first !== '' && from < until;
  return (
    <form
      className="mt-2 grid gap-2 rounded border border-cobalt bg-sheet2 p-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (isRight) onAdd({ from, until, name: name.trim() || 'Closed', uid: '' });
      }}
    >
      <TextField label="What it is" value={name} maxLength={80} autoFocus onChange={(e) => setName(e.currentTarget.value)} />
      <div className="flex flex-wrap gap-3">
        <Labelled label="From">
          <input type="date" value={first} onChange={(e) => setFirst(e.currentTarget.value)} />
        </Labelled>
        <Labelled label="To and with (empty: the same day)">
          <input type="date" value={last} min={first} onChange={(e) => setLast(e.currentTarget.value)} />
        </Labelled>
      </div>
      <Tick checked={hasTimes} onTick={setTimes}>
        Only part of the day
      </Tick>
      {hasTimes && (
        <div className="flex gap-3">
          <Labelled label="From">
            <input type="time" value={times.from} onChange={(e) => putTimes({ ...times, from: e.currentTarget.value })} />
          </Labelled>
          <Labelled label="Until">
            <input type="time" value={times.until} onChange={(e) => putTimes({ ...times, until: e.currentTarget.value })} />
          </Labelled>
        </div>
      )}
      {first !== '' && !isRight && <p className="text-bad">It would be over before it begins.</p>}
      <p className="flex gap-2">
        <Button kind="primary" type="submit" disabled={!isRight}>
          Add
        </Button>
        <Button onClick={onCancel}>Cancel</Button>
      </p>
    </form>
  );
}

const Labelled = ({ label, children }: { label: string; children: ReactNode }) => (
  // biome-ignore lint/a11y/noLabelWithoutControl: the control is what it is given.
  <label className="grid gap-1">
    <span className="text-[12px]">{label}</span>
    {children}
  </label>
);

/** Dates from a calendar file (iCalendar), shown before anything is taken. */
function CalendarImport({ hours, onChange }: { hours: Hours; onChange(change: Partial<Hours>): void }) {
  const { site } = useDesk();
  const read = useMutation({
    mutationFn: async (file: File) => readCalendar(site.id, { text: await file.text(), zone: hours.zone, closed: hours.closed }),
  });
  const found = read.data;
  return (
    <section aria-label="Dates from a calendar" className="mt-3 grid gap-2 border-t border-hair pt-3">
      <h3 className="font-sans text-[13px] font-semibold tracking-normal">Closed dates from a calendar file</h3>
      <p className="text-soft">
        An iCalendar file (.ics), as calendars export it. Events that repeat are followed for two years; cancelled ones and those that take
        up no time are passed over. The same event brought in again replaces what it said before.
      </p>
      <input
        type="file"
        accept=".ics,text/calendar"
        aria-label="Calendar file"
        onChange={(e) => {
          const file = e.currentTarget.files?.[0];
          if (file) read.mutate(file);
        }}
      />
      {read.isPending && <p className="text-soft">Reading it</p>}
      <Refused error={read.error} />
      {found && (
        <div className="grid gap-2 rounded border border-cobalt bg-sheet2 p-3">
          <p>
            <b>{plural(found.new.length, 'date')}</b> to add
            {found.replaced > 0 && `, ${plural(found.replaced, 'date')} said anew`}
            {found.leftOut > 0 && `, ${plural(found.leftOut, 'event')} passed over`}.
          </p>
          <ul className="max-h-40 overflow-auto">
            {found.new.map((span) => (
              <li key={`${span.uid} ${span.from}`}>
                {datedWords(span)} <span className="text-soft">{span.name}</span>
              </li>
            ))}
          </ul>
          <p className="flex gap-2">
            <Button
              kind="primary"
              disabled={found.new.length + found.replaced === 0}
              onClick={() => {
                onChange({ closed: found.closed });
                read.reset();
              }}
            >
              Take them over
            </Button>
            <Button onClick={() => read.reset()}>Leave it</Button>
          </p>
        </div>
      )}
    </section>
  );
}
