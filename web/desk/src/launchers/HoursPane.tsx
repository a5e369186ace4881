import { Plus } from 'lucide-react';
import { useRef, useState } from 'react';
import { SelectField, Tick } from '../kit/Field';
import { PhrasePopover } from '../kit/PhrasePopover';
import { plural } from '../kit/plural';
import { useNow } from '../kit/useNow';
import type { Launcher, LauncherBrief } from './api';
import { DatesPanel } from './DatesPanel';
import { Problems } from './Problems';
import { fitted, gridOf, STEP, type Stretch, stretchOf, stretchWords, timeOf, withStretch } from './week';

type Hours = LauncherBrief['hours'];
type Span = Hours['week'][number];

const DAYS: readonly (readonly [Span['day'], string, string])[] = [
  ['monday', 'Mon', 'Monday'],
  ['tuesday', 'Tue', 'Tuesday'],
  ['wednesday', 'Wed', 'Wednesday'],
  ['thursday', 'Thu', 'Thursday'],
  ['friday', 'Fri', 'Friday'],
  ['saturday', 'Sat', 'Saturday'],
  ['sunday', 'Sun', 'Sunday'],
];

/** When the team is there: the week as a grid, to be drawn with the pointer or by keys; closed dates and extra openings beside. */
export function HoursPane({
  launcher,
  brief,
  mayEdit,
  onChange,
}: {
  launcher: Launcher;
  brief: LauncherBrief;
  mayEdit: boolean;
  onChange(change: Partial<LauncherBrief>): void;
}) {
  const { hours } = brief;
  const [showsDates, setShowsDates] = useState(false);
  const put = (change: Partial<Hours>) => onChange({ hours: { ...hours, ...change } });
  return (
    <section aria-label="Hours" className="min-w-0 px-4 py-3">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h2 className="text-[17px] leading-6">Hours</h2>
        <ZoneChoice zone={hours.zone} mayEdit={mayEdit} onZone={(zone) => put({ zone })} />
        <button type="button" onClick={() => setShowsDates(true)} className="ms-auto min-h-8 font-semibold text-cobalt hover:underline">
          {hours.closed.length === 0 ? 'Closed dates' : plural(hours.closed.length, 'closed date')}
          {hours.extra.length > 0 && `, ${plural(hours.extra.length, 'extra opening')}`}
        </button>
      </div>
      <WeekGrid hours={hours} mayEdit={mayEdit} onWeek={(week) => put({ week })} />
      <div className="mt-2">
        <Tick checked={hours.onlyIfPresent} onTick={(onlyIfPresent) => mayEdit && put({ onlyIfPresent })}>
          Open only while somebody of the team is at the desk
        </Tick>
      </div>
      <Problems problems={launcher.problems} of={['hours']} />
      {showsDates && <DatesPanel hours={hours} mayEdit={mayEdit} onChange={put} onClose={() => setShowsDates(false)} />}
    </section>
  );
}

function ZoneChoice({ zone, mayEdit, onZone }: { zone: string; mayEdit: boolean; onZone(zone: string): void }) {
  if (!mayEdit) return <span className="text-soft">{zone}</span>;
  const zones = Intl.supportedValuesOf('timeZone');
  return (
    <PhrasePopover facet="when" label="Time zone" words={zone}>
      {(close) => (
        <SelectField
          label="Time zone of these hours"
          value={zone}
          choices={(zones.includes(zone) ? zones : [zone, ...zones]).map((z) => [z, z] as const)}
          onChoose={(z) => {
            onZone(z);
            close();
          }}
        />
      )}
    </PhrasePopover>
  );
}

/** Where the zone's clock stands now: which day, and the minute of it. */
function nowIn(zone: string, ms: number): { day: string; minute: number } | undefined {
  try {
    const format = new Intl.DateTimeFormat('en-GB', { timeZone: zone, weekday: 'long', hour: '2-digit', minute: '2-digit', hour12: false });
    const parts = Object.fromEntries(format.formatToParts(ms).map((p) => [p.type, p.value]));
    return { day: (parts.weekday ?? '').toLowerCase(), minute: Number(parts.hour) * 60 + Number(parts.minute) };
  } catch {
    // A zone that this browser does not know: no line is drawn.
    return undefined;
  }
}

function WeekGrid({ hours, mayEdit, onWeek }: { hours: Hours; mayEdit: boolean; onWeek(week: Span[]): void }) {
  const { week } = hours;
  const grid = gridOf(week);
  const now = nowIn(hours.zone, useNow(30_000));
  const whole = grid.until - grid.from;
  const at = (minute: number) => `${((minute - grid.from) / whole) * 100}%`;
  const ticks: number[] = [];
  const every = whole > 16 * 60 ? 240 : 180;
  for (let t = Math.ceil(grid.from / every) * every; t < grid.until; t += every) ticks.push(t);
  const surface = useRef<HTMLDivElement>(null);
  const [drawn, setDrawn] = useState<{ day: Span['day'] } & Stretch>();
  const minuteAt = (clientX: number) => {
    const box = surface.current?.getBoundingClientRect();
    if (!box) return grid.from;
    return grid.from + Math.round((((clientX - box.left) / box.width) * whole) / STEP) * STEP;
  };
  const last = useRef<HTMLElement>(null);

  function draw(day: Span['day'], event: React.PointerEvent<HTMLElement>) {
    if (!mayEdit || event.button !== 0) return;
    const start = Math.min(minuteAt(event.clientX), grid.until - STEP);
    const follow = (e: PointerEvent) => {
      const to = minuteAt(e.clientX);
      setDrawn({ day, from: Math.min(start, to), until: Math.max(start, to) });
    };
    follow(event.nativeEvent);
    drag(follow, (e) => {
      setDrawn(undefined);
      const to = minuteAt(e.clientX);
      const stretch = { from: Math.min(start, to), until: Math.max(start, to) };
      // A mere click draws nothing: an hour nobody meant is worse than none.
      if (stretch.until - stretch.from < 2 * STEP) return;
      const { from, until } = fitted(stretch);
      onWeek([...week, { day, from: timeOf(from), until: timeOf(until) }]);
    });
  }

  function move(place: number, which: 'both' | 'from' | 'until', event: React.PointerEvent<HTMLElement>) {
    const span = week[place];
    if (!mayEdit || !span || event.button !== 0) return;
    event.stopPropagation();
    const before = stretchOf(span);
    const begun = minuteAt(event.clientX);
    let next = before;
    drag(
      (e) => {
        const by = minuteAt(e.clientX) - begun;
        next = fitted({
          from: which === 'until' ? before.from : before.from + by,
          until: which === 'from' ? before.until : before.until + by,
        });
        setDrawn({ day: span.day, ...next });
      },
      () => {
        setDrawn(undefined);
        if (next !== before) onWeek(withStretch(week, place, next));
      },
    );
  }

  function key(place: number, event: React.KeyboardEvent<HTMLElement>) {
    const span = week[place];
    if (!mayEdit || !span) return;
    const by = event.key === 'ArrowLeft' ? -STEP : event.key === 'ArrowRight' ? STEP : 0;
    const { from, until } = stretchOf(span);
    if (event.key === 'Delete' || event.key === 'Backspace') {
      event.preventDefault();
      onWeek(withStretch(week, place, undefined));
      last.current?.focus();
    } else if (by !== 0) {
      event.preventDefault();
      onWeek(
        withStretch(
          week,
          place,
          event.shiftKey ? { from, until: until + by } : event.altKey ? { from: from + by, until } : { from: from + by, until: until + by },
        ),
      );
    }
  }

  return (
    <div className="mt-2">
      <p id="hours-keys" className="sr-only">
        Arrow keys move a stretch by a quarter of an hour; with Shift they move its end, with Alt its beginning. Delete removes it.
      </p>
      <div className="ms-10 me-7 relative h-5 text-[11px] text-soft" aria-hidden="true">
        {ticks.map((t) => (
          <span key={t} className="absolute -translate-x-1/2" style={{ insetInlineStart: at(t) }}>
            {(t / 60) % 24}:00
          </span>
        ))}
      </div>
      {DAYS.map(([day, short, long], row) => {
        const spans = week.map((span, place) => ({ span, place })).filter((s) => s.span.day === day);
        const isToday = now?.day === day;
        return (
          <div key={day} className="flex items-stretch" role="group" aria-label={long}>
            <span className={`w-10 flex-none self-center text-[12px] ${isToday ? 'font-bold' : ''}`}>{short}</span>
            <div
              ref={row === 0 ? surface : undefined}
              className={`relative h-7 min-w-0 flex-1 touch-pan-y border-x border-b border-hair bg-sheet ${row === 0 ? 'border-t' : ''} ${mayEdit ? 'cursor-crosshair' : ''}`}
              onPointerDown={(e) => draw(day, e)}
            >
              {ticks.map((t) => (
                <span key={t} className="absolute inset-y-0 border-s border-hair" style={{ insetInlineStart: at(t) }} aria-hidden="true" />
              ))}
              {spans.length === 0 && drawn?.day !== day && (
                <span className="pointer-events-none absolute start-2 text-[12px] leading-7 text-soft">
                  {week.length === 0 ? 'open' : 'closed'}
                </span>
              )}
              {spans.map(({ span, place }) => {
                const { from, until } = stretchOf(span);
                const isNow = isToday && now.minute >= from && now.minute < until;
                return (
                  <button
                    key={`${place} ${span.from}`}
                    type="button"
                    disabled={!mayEdit}
                    aria-label={`${long}, ${stretchWords(span)}`}
                    aria-describedby="hours-keys"
                    onKeyDown={(e) => key(place, e)}
                    onPointerDown={(e) => move(place, 'both', e)}
                    className={`absolute inset-y-1 overflow-hidden border-x-[3px] border-ink px-1 text-[11px] leading-5 font-semibold whitespace-nowrap text-ink ${isNow ? 'bg-marigold' : 'bg-[#dbe0d9]'} ${mayEdit ? 'cursor-grab' : ''}`}
                    style={{ insetInlineStart: at(from), width: `${((Math.min(until, grid.until) - from) / whole) * 100}%` }}
                  >
                    {stretchWords(span)}
                    {mayEdit && (
                      <>
                        <span
                          aria-hidden="true"
                          className="absolute inset-y-0 start-0 w-2 cursor-ew-resize"
                          onPointerDown={(e) => move(place, 'from', e)}
                        />
                        <span
                          aria-hidden="true"
                          className="absolute inset-y-0 end-0 w-2 cursor-ew-resize"
                          onPointerDown={(e) => move(place, 'until', e)}
                        />
                      </>
                    )}
                  </button>
                );
              })}
              {drawn?.day === day && (
                <span
                  aria-hidden="true"
                  className="pointer-events-none absolute inset-y-1 border-x-[3px] border-cobalt bg-selectwash px-1 text-[11px] leading-5"
                  style={{ insetInlineStart: at(drawn.from), width: `${((drawn.until - drawn.from) / whole) * 100}%` }}
                >
                  {stretchWords({ from: timeOf(drawn.from), until: timeOf(drawn.until) })}
                </span>
              )}
              {isToday && now.minute >= grid.from && now.minute <= grid.until && (
                <span
                  aria-hidden="true"
                  className="pointer-events-none absolute -inset-y-px border-s-2 border-ink"
                  style={{ insetInlineStart: at(now.minute) }}
                />
              )}
            </div>
            <span className="w-7 flex-none">
              {mayEdit && (
                <button
                  type="button"
                  ref={(element) => {
                    if (element) last.current = element;
                  }}
                  aria-label={`Add hours on ${long}`}
                  className="grid h-7 w-7 place-items-center rounded text-soft hover:bg-hair"
                  onClick={() => onWeek([...week, freeOn(week, day)])}
                >
                  <Plus className="h-3.5 w-3.5" />
                </button>
              )}
            </span>
          </div>
        );
      })}
    </div>
  );
}

/** Hours that a day still has room for: nine to five, or two hours after its last. */
function freeOn(week: readonly Span[], day: Span['day']): Span {
  const last = Math.max(0, ...week.filter((s) => s.day === day).map((s) => stretchOf(s).until));
  const from = last === 0 ? 540 : Math.min(last + 60, 1380);
  const { from: start, until } = fitted({ from, until: last === 0 ? 1020 : from + 120 });
  return { day, from: timeOf(start), until: timeOf(until) };
}

/** Follows the pointer wherever it goes until it is let go. */
function drag(follow: (event: PointerEvent) => void, end: (event: PointerEvent) => void) {
  const stop = (event: PointerEvent) => {
    document.removeEventListener('pointermove', follow);
    document.removeEventListener('pointerup', stop);
    document.removeEventListener('pointercancel', stop);
    end(event);
  };
  document.addEventListener('pointermove', follow);
  document.addEventListener('pointerup', stop);
  document.addEventListener('pointercancel', stop);
}
