import { X } from 'lucide-react';
import { Button } from '../kit/Button';
import { Choice } from '../kit/Field';
import { useRowKeys } from '../kit/useRowKeys';
import { useDesk } from '../session/desk';
import type { Brief } from './types';
import { dayName, WEEKDAYS } from './when';

type Schedule = Brief['when']['schedule'];
type Span = Schedule['hours'][number];

const WORKDAYS = WEEKDAYS.slice(0, 5);

/** Dates and hours, all on the clock of the site's time zone. */
export function ScheduleEditor({ schedule, onChange }: { schedule: Schedule; onChange(change: Partial<Schedule>): void }) {
  const { site } = useDesk();
  const set = (place: number, change: Partial<Span>) =>
    onChange({ hours: schedule.hours.map((h, i) => (i === place ? { ...h, ...change } : h)) });
  const rows = useRowKeys(schedule.hours.length);
  return (
    <div className="grid gap-4">
      <p className="text-soft">All dates and hours follow the clock of {site.timeZone}.</p>
      <div className="flex flex-wrap gap-3">
        <Moment label="From, included" value={schedule.from} onValue={(from) => onChange({ from })} />
        <Moment label="Until, not included" value={schedule.until} onValue={(until) => onChange({ until })} />
      </div>
      <fieldset className="grid gap-2">
        <legend className="mb-1 font-semibold">Weekly hours</legend>
        {schedule.hours.length === 0 && <p className="text-soft">Every hour of the week.</p>}
        {schedule.hours.map((span, place) => (
          <div key={rows.keys[place]} className="flex flex-wrap items-center gap-1">
            <select aria-label="Day" value={span.day} onChange={(e) => set(place, { day: e.currentTarget.value as Span['day'] })}>
              {WEEKDAYS.map((day) => (
                <option key={day} value={day}>
                  {dayName(day)}
                </option>
              ))}
            </select>
            <Hour label="From" value={span.from} onValue={(from) => set(place, { from })} />
            <span aria-hidden="true">–</span>
            <Hour label="Until" value={span.until} onValue={(until) => set(place, { until })} />
            {span.until <= span.from && <span className="text-soft">on the next day</span>}
            <button
              type="button"
              aria-label={`Remove ${dayName(span.day)}`}
              className="grid h-8 w-8 place-items-center"
              onClick={() => {
                rows.removed(place);
                onChange({ hours: schedule.hours.filter((_, i) => i !== place) });
              }}
            >
              <X className="h-4 w-4" />
            </button>
          </div>
        ))}
        <p className="flex gap-2">
          <Button onClick={() => onChange({ hours: [...schedule.hours, { day: 'monday', from: '09:00:00', until: '17:00:00' }] })}>
            Add hours
          </Button>
          {schedule.hours.length === 0 && (
            <Button onClick={() => onChange({ hours: WORKDAYS.map((day) => ({ day, from: '09:00:00', until: '17:00:00' })) })}>
              Weekdays, nine to five
            </Button>
          )}
        </p>
      </fieldset>
      <fieldset className="grid gap-2">
        <legend className="mb-1 font-semibold">An event it is about</legend>
        <div className="flex flex-wrap gap-3">
          <Moment label="Starts" value={schedule.eventStarts} onValue={(eventStarts) => onChange({ eventStarts })} />
          <Moment label="Ends" value={schedule.eventEnds} onValue={(eventEnds) => onChange({ eventEnds })} />
        </div>
        {schedule.eventStarts && (
          <Choice
            legend="Say it"
            value={schedule.untilEvent}
            choices={[
              ['starts', 'until the event starts'],
              ['ends', 'until the event ends'],
            ]}
            onChoose={(untilEvent) => onChange({ untilEvent })}
          />
        )}
        <Moment
          label="A countdown counts to (else to the event's start)"
          value={schedule.countdownTo}
          onValue={(countdownTo) => onChange({ countdownTo })}
        />
      </fieldset>
    </div>
  );
}

function Moment({ label, value, onValue }: { label: string; value: string | null; onValue(value: string | null): void }) {
  return (
    <label className="grid gap-1">
      {label}
      <input
        type="datetime-local"
        value={value?.slice(0, 16) ?? ''}
        onChange={(e) => onValue(e.currentTarget.value ? `${e.currentTarget.value}:00` : null)}
      />
    </label>
  );
}

function Hour({ label, value, onValue }: { label: string; value: string; onValue(value: string): void }) {
  return (
    <input
      type="time"
      aria-label={label}
      value={value.slice(0, 5)}
      onChange={(e) => e.currentTarget.value && onValue(`${e.currentTarget.value}:00`)}
    />
  );
}
