import { useDesk } from '../session/desk';
import { atHour, hourOf, localNow } from '../visits/asOf';

/** The day's hours, darker where more visits begin; one is the hour that the sheet shows. */
export function HourRuler({ hours, at, onChoose }: { hours: readonly number[]; at: string | undefined; onChoose(at: string): void }) {
  const { site } = useDesk();
  const shown = at ?? localNow(site.timeZone);
  const chosen = hourOf(shown);
  const most = Math.max(...hours, 0.0001);
  return (
    <div className="ms-auto w-[168px] flex-none max-xl:hidden">
      {/* One control with 24 places: cells of eight pixels would be no targets. */}
      <div className="relative">
        <div className="flex gap-px" aria-hidden="true">
          {hours.map((share, hour) => (
            <span
              // biome-ignore lint/suspicious/noArrayIndexKey: only drawn, in a fixed order, and holds nothing of its own.
              key={hour}
              className={`h-5 flex-1 ${hour === chosen ? 'border border-ink bg-marigold' : ''}`}
              style={
                hour === chosen
                  ? undefined
                  : { background: `color-mix(in srgb, var(--color-strong) ${(share / most) * 100}%, var(--color-hair))` }
              }
            />
          ))}
        </div>
        <input
          type="range"
          min={0}
          max={23}
          value={chosen}
          aria-label="Hour of the day"
          aria-valuetext={`${chosen}:00, ${((hours[chosen] ?? 0) * 100).toFixed(0)} % of visits begin`}
          onChange={(event) => onChoose(atHour(shown, event.currentTarget.valueAsNumber))}
          className="absolute inset-0 !min-h-0 w-full cursor-pointer !border-0 !p-0 opacity-0 focus-visible:opacity-40"
        />
      </div>
      <div className="flex justify-between text-[12px] leading-4 text-soft" aria-hidden="true">
        {[0, 6, 12, 18, 24].map((h) => (
          <span key={h}>{h}</span>
        ))}
      </div>
    </div>
  );
}
