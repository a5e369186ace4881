import { useQuery } from '@tanstack/react-query';
import { TriangleAlert } from 'lucide-react';
import type { Source } from '../brief/types';
import { sourcesQuery } from '../catalogue/api';
import { Button } from '../kit/Button';
import { plural } from '../kit/plural';
import { ago } from '../kit/time';
import { useNow } from '../kit/useNow';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { SOURCES } from './words';

/** The sources with their day and their health; one opened says and sets everything about it. */
export function SourcesPanel({
  chosen,
  isOpen,
  onOpen,
  onAdd,
}: {
  chosen: string | undefined;
  /** On narrow screens the list is hidden until it is asked for. */
  isOpen: boolean;
  onOpen(source: string): void;
  onAdd(): void;
}) {
  const { site, member } = useDesk();
  const { data: sources } = useQuery(sourcesQuery(site.id));
  const now = useNow(5000);
  return (
    <aside
      aria-label="Sources"
      className={`flex w-[212px] flex-none flex-col border-e border-ink bg-paper max-lg:absolute max-lg:inset-y-0 max-lg:start-0 max-lg:z-10 max-lg:shadow-lg ${isOpen ? '' : 'max-lg:hidden'}`}
    >
      <h2 className="flex flex-none items-baseline justify-between border-b border-hair px-4 py-2 text-[15px]">
        Sources <span className="font-sans text-[12px] font-normal tracking-normal text-soft">24 h, per hour</span>
      </h2>
      <ul className="min-h-0 flex-1 overflow-auto" tabIndex={0} aria-label="All sources">
        {sources?.map((source) => (
          <li
            key={source.id}
            className={`border-b border-hair ${source.id === chosen ? 'bg-selectwash' : source.condition === 'refusing' ? 'bg-badwash/40' : ''}`}
          >
            <button
              type="button"
              aria-pressed={source.id === chosen}
              onClick={() => onOpen(source.id)}
              className="block w-full px-4 py-2 text-start"
            >
              <span className="block overflow-hidden font-semibold text-ellipsis whitespace-nowrap">{source.name}</span>
              <span className="flex items-end justify-between gap-2">
                <span className="text-[12px] leading-4 whitespace-nowrap text-soft">{SOURCES[source.kind].name}</span>
                <Hours hours={source.hours} />
              </span>
              <Health source={source} now={now} />
            </button>
          </li>
        ))}
      </ul>
      {mayAct(member, 'connect') && (
        <div className="flex flex-none border-t border-ink px-4 py-1">
          <Button kind="link" onClick={onAdd}>
            Add a source
          </Button>
        </div>
      )}
    </aside>
  );
}

function Health({ source, now }: { source: Source; now: number }) {
  if (source.condition === 'paused') return <span className="block text-[12px] leading-4 text-warn">paused</span>;
  if (source.condition === 'refusing')
    return (
      <span className="flex gap-1 text-[12px] leading-4 text-bad">
        <TriangleAlert className="mt-0.5 h-3 w-3 flex-none" aria-hidden="true" /> refused {ago(source.refusedAt ?? '', now)}
      </span>
    );
  if (source.condition === 'quiet')
    return (
      <span className="flex gap-1 text-[12px] leading-4 text-warn">
        <TriangleAlert className="mt-0.5 h-3 w-3 flex-none" aria-hidden="true" /> under half its usual day
      </span>
    );
  return (
    <span className="block text-[12px] leading-4 whitespace-normal">
      {source.lastEventAt ? `${ago(source.lastEventAt, now)}, ${source.eventsLastDay} today` : 'nothing yet'}
      {source.dependents.length > 0 && `, in ${source.dependents.length} ${source.dependents.length === 1 ? 'callout' : 'callouts'}`}
    </span>
  );
}

const HIGH_PX = 16;
const HOUR_PX = 3;

/** A day's events by the hour; the figures are read out, the picture is for eyes. */
function Hours({ hours }: { hours: readonly number[] }) {
  const most = Math.max(...hours, 1);
  return (
    <svg
      width={24 * HOUR_PX}
      height={HIGH_PX}
      role="img"
      aria-label={`${plural(
        hours.reduce((a, b) => a + b, 0),
        'event',
      )} in 24 hours`}
    >
      {hours.map((count, hour) => {
        const high = count === 0 ? 1 : Math.max(2, (count / most) * HIGH_PX);
        return (
          <rect
            // biome-ignore lint/suspicious/noArrayIndexKey: only drawn, in a fixed order, and holds nothing of its own.
            key={hour}
            x={hour * HOUR_PX}
            y={HIGH_PX - high}
            width={HOUR_PX - 0.8}
            height={high}
            fill={count === 0 ? '#b9beb5' : '#15181e'}
          />
        );
      })}
    </svg>
  );
}
