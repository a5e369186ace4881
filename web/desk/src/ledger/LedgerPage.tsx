import { useInfiniteQuery, useQuery } from '@tanstack/react-query';
import { useNavigate, useSearch } from '@tanstack/react-router';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef } from 'react';
import { useDesk } from '../app/desk';
import { sourcesQuery } from '../callouts/api';
import { clockSeconds, day } from '../lib/time';
import { Failed, Waiting } from '../ui/Notice';
import { PhraseMenu } from '../ui/PhraseMenu';
import { Said } from '../ui/Said';
import { eventsQuery, type LedgerEvent, type LedgerFilter } from './api';
import { EventPanel } from './EventPanel';
import { EventSign } from './EventSign';
import { SourcesPanel } from './SourcesPanel';

const STATES = [
  ['', 'every event'],
  ['usable', 'usable events'],
  ['ownTest', "members' own tests"],
  ['hidden', 'hidden events'],
] as const;

const PERIODS = [
  ['24', 'the last 24 hours'],
  ['168', 'the last 7 days'],
  ['720', 'the last 30 days'],
  ['0', 'all time'],
] as const;

const COLUMNS = 'grid grid-cols-[92px_104px_minmax(0,1fr)_200px_84px] max-md:grid-cols-[72px_minmax(0,1fr)]';
const ROW_PX = 52;

/** Events as they arrive, newest first, in the words visitors read. */
export function LedgerPage() {
  const { site } = useDesk();
  const search = useSearch({ from: '/ledger' });
  const navigate = useNavigate({ from: '/ledger' });
  const { data: sources } = useQuery(sourcesQuery(site.id));
  const filter: LedgerFilter = {
    hours: search.hours ?? 168,
    ...(search.source && { source: search.source }),
    ...(search.state && { state: search.state as LedgerFilter['state'] }),
  };
  const events = useInfiniteQuery(eventsQuery(site.id, filter));
  const set = (change: Partial<typeof search>) => void navigate({ search: (before) => ({ ...before, ...change }), replace: true });
  const total = events.data?.pages[0]?.total ?? 0;
  return (
    <div className="flex h-full flex-col">
      <div className="flex min-h-14 flex-none flex-wrap items-center gap-x-5 border-b border-ink px-4 py-2">
        <h1 className="text-[22px] leading-7">Ledger</h1>
        <p className="font-display text-[16px] leading-[26px]">
          Showing{' '}
          <PhraseMenu
            facet="from"
            label="State"
            value={search.state ?? ''}
            choices={STATES}
            onChoose={(v) => set({ state: v || undefined })}
          />{' '}
          from{' '}
          <PhraseMenu
            facet="from"
            label="Source"
            value={search.source ?? ''}
            choices={[['', 'all sources'] as const, ...(sources ?? []).map((s) => [s.id, s.name] as const)]}
            onChoose={(v) => set({ source: v || undefined })}
          />{' '}
          in{' '}
          <PhraseMenu
            facet="from"
            label="Period"
            value={String(filter.hours)}
            choices={PERIODS}
            onChoose={(v) => set({ hours: Number(v) })}
          />
        </p>
        <span className="text-soft" role="status">
          {total.toLocaleString('en-GB')} {total === 1 ? 'event' : 'events'}
        </span>
      </div>
      <div className="relative flex min-h-0 flex-1">
        <SourcesPanel chosen={search.source} onChoose={(source) => set({ source })} />
        <div className="flex min-w-0 flex-1 flex-col bg-sheet">
          {events.isError ? (
            <Failed error={events.error} again={() => void events.refetch()} />
          ) : !events.data ? (
            <Waiting>Fetching events</Waiting>
          ) : total === 0 ? (
            <p className="p-6 text-soft">
              Nothing arrived here in this period. Try the shop on your site, or choose a longer period above; what arrives shows here by
              itself.
            </p>
          ) : (
            <Rows
              rows={events.data.pages.flatMap((p) => p.events)}
              chosen={search.event}
              onChoose={(event) => set({ event })}
              onEnd={() => {
                if (events.hasNextPage && !events.isFetchingNextPage) void events.fetchNextPage();
              }}
            />
          )}
        </div>
        {search.event && <EventPanel eventId={search.event} onClose={() => set({ event: undefined })} />}
      </div>
    </div>
  );
}

function Rows({
  rows,
  chosen,
  onChoose,
  onEnd,
}: {
  rows: LedgerEvent[];
  chosen: string | undefined;
  onChoose(id: string): void;
  onEnd(): void;
}) {
  const box = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({ count: rows.length, getScrollElement: () => box.current, estimateSize: () => ROW_PX, overscan: 8 });
  const shown = virtual.getVirtualItems();
  const last = shown[shown.length - 1]?.index ?? 0;
  // biome-ignore lint/correctness/useExhaustiveDependencies: asks again whenever the end comes near, not when the asking itself changes
  useEffect(() => {
    if (last >= rows.length - 10) onEnd();
  }, [last, rows.length]);
  return (
    <div role="table" aria-label="Events" aria-rowcount={rows.length} className="flex min-h-0 flex-1 flex-col">
      <div role="row" className={`${COLUMNS} flex-none border-b border-ink bg-paper px-4 py-1.5 font-semibold text-soft`}>
        <span role="columnheader">When</span>
        <span role="columnheader" className="max-md:hidden">
          State
        </span>
        <span role="columnheader">As visitors will see it</span>
        <span role="columnheader" className="max-md:hidden">
          What arrived, masked
        </span>
        <span role="columnheader" className="text-end max-md:hidden">
          Value
        </span>
      </div>
      <div ref={box} role="rowgroup" className="min-h-0 flex-1 overflow-auto" tabIndex={0}>
        <div role="presentation" className="relative" style={{ height: virtual.getTotalSize() }}>
          {shown.map((item) => {
            const event = rows[item.index];
            return (
              event && (
                <Row
                  key={event.id}
                  event={event}
                  place={item.index}
                  top={item.start}
                  isChosen={event.id === chosen}
                  onChoose={() => onChoose(event.id)}
                />
              )
            );
          })}
        </div>
      </div>
    </div>
  );
}

function Row({
  event,
  place,
  top,
  isChosen,
  onChoose,
}: {
  event: LedgerEvent;
  place: number;
  top: number;
  isChosen: boolean;
  onChoose(): void;
}) {
  const masked = [event.maskedName, event.maskedEmail].filter(Boolean).join(', ');
  return (
    <div
      role="row"
      aria-rowindex={place + 1}
      className={`${COLUMNS} absolute inset-x-0 h-[52px] items-start border-b px-4 pt-1.5 leading-[18px] ${isChosen ? 'border-y-2 border-cobalt bg-selectwash' : 'border-hair hover:bg-sheet2'}`}
      style={{ transform: `translateY(${top}px)` }}
    >
      <span role="cell" className="text-soft">
        {clockSeconds(event.at)}
        <span className="block text-[12px]">{day(event.at)}</span>
      </span>
      <span role="cell" className="max-md:hidden">
        <EventSign event={event} />
      </span>
      <span role="cell" className="min-w-0 pe-3">
        <button
          type="button"
          onClick={onChoose}
          className={`block w-full overflow-hidden text-start text-ellipsis whitespace-nowrap after:absolute after:inset-0 ${event.state === 'hidden' ? 'line-through' : ''}`}
        >
          <Said spans={event.spans} />
        </button>
        <span className="block overflow-hidden text-[12px] text-ellipsis whitespace-nowrap text-soft">
          {event.meta}
          {event.path && <span className="ms-2 font-mono">{event.path}</span>}
        </span>
      </span>
      <span role="cell" className="overflow-hidden text-[12px] text-ellipsis whitespace-nowrap text-soft max-md:hidden">
        {masked || 'nothing personal'}
        <span className="block">{event.source}</span>
      </span>
      <span role="cell" className="text-end max-md:hidden">
        {event.amount}
      </span>
    </div>
  );
}
