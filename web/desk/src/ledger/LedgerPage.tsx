import { useInfiniteQuery, useQuery } from '@tanstack/react-query';
import { useNavigate, useSearch } from '@tanstack/react-router';
import { useState } from 'react';
import { sourcesQuery } from '../catalogue/api';
import { Button } from '../kit/Button';
import { Failed, Waiting } from '../kit/Notice';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { useTitle } from '../session/useTitle';
import { eventsQuery, type LedgerFilter } from './api';
import { CarePanel } from './CarePanel';
import { ErasePanel } from './ErasePanel';
import { EventPanel } from './EventPanel';
import { ExportMenu } from './ExportMenu';
import { FilterSentence } from './FilterSentence';
import { ImportPanel } from './ImportPanel';
import { Rows } from './Rows';
import { SelectionBar, UndoBar } from './SelectionBar';
import { SourcesPanel } from './SourcesPanel';
import { AddSourcePanel } from './sources/AddSourcePanel';
import { SourcePanel } from './sources/SourcePanel';
import { useSelection } from './useSelection';
import { ViewsMenu } from './ViewsMenu';

/** What lies open beside the list. */
export type PanelName = 'event' | 'source' | 'add' | 'import' | 'erase' | 'care';

/** Events as they arrive, newest first, in the words visitors read; where they come from; and the care taken of them. */
export function LedgerPage() {
  const { site, member } = useDesk();
  const search = useSearch({ from: '/ledger' });
  const navigate = useNavigate({ from: '/ledger' });
  useTitle('Ledger');
  const { data: sources } = useQuery(sourcesQuery(site.id));
  const filter: LedgerFilter = {
    hours: search.hours ?? 168,
    ...(search.source && { source: search.source }),
    ...(search.kind && { kind: search.kind }),
    ...(search.state && { state: search.state }),
    ...(search.page && { page: search.page }),
    ...(search.text && { text: search.text }),
  };
  const events = useInfiniteQuery(eventsQuery(site.id, filter));
  const selection = useSelection(filter);
  const [undo, setUndo] = useState<{ ids: readonly string[]; until: string }>();
  const [listsSources, setListsSources] = useState(false);
  const set = (change: Partial<typeof search>) => void navigate({ search: (before) => ({ ...before, ...change }), replace: true });
  const open = (panel: PanelName | undefined, change: Partial<typeof search> = {}) => set({ panel, ...change });
  const first = events.data?.pages[0];
  const total = first?.total ?? 0;
  const mayEdit = mayAct(member, 'publish');
  const rows = events.data?.pages.flatMap((p) => p.events) ?? [];
  return (
    <div className="flex h-full flex-col">
      <div className="grid flex-none gap-1 border-b border-ink px-4 py-2">
        <div className="flex flex-wrap items-baseline gap-x-4">
          <h1 className="text-[22px] leading-7">Ledger</h1>
          <FilterSentence search={search} sources={sources ?? []} onSet={set} />
        </div>
        <div className="flex flex-wrap items-center gap-2">
          <span className="text-soft" role="status">
            {total.toLocaleString('en-GB')}
            {first?.totalIsMore && '+'} {total === 1 ? 'event' : 'events'}
            {!!first?.waiting && (
              <>
                ,{' '}
                <button
                  type="button"
                  className="font-semibold text-cobalt hover:underline"
                  onClick={() => set({ state: 'held', hours: 0, source: undefined, kind: undefined })}
                >
                  {first.waiting} to review
                </button>
              </>
            )}
          </span>
          <span className="ms-auto flex flex-wrap gap-2">
            <Button className="lg:hidden" aria-pressed={listsSources} onClick={() => setListsSources(!listsSources)}>
              Sources
            </Button>
            <ViewsMenu />
            {mayAct(member, 'connect') && <Button onClick={() => open('import')}>Import</Button>}
            {mayAct(member, 'see') && <ExportMenu filter={filter} />}
            {mayAct(member, 'govern') && <Button onClick={() => open('erase')}>Erase a person</Button>}
            {mayAct(member, 'see') && <Button onClick={() => open('care')}>Privacy and blocked words</Button>}
          </span>
        </div>
      </div>
      <div className="relative flex min-h-0 flex-1">
        <SourcesPanel
          chosen={search.panel === 'source' ? search.id : search.source}
          isOpen={listsSources}
          onOpen={(id) => {
            setListsSources(false);
            open('source', { id });
          }}
          onAdd={() => {
            setListsSources(false);
            open('add');
          }}
        />
        <div className="flex min-w-0 flex-1 flex-col bg-sheet">
          {events.isError ? (
            <Failed error={events.error} again={() => void events.refetch()} />
          ) : !events.data ? (
            <Waiting>Fetching events</Waiting>
          ) : total === 0 ? (
            <Empty
              hasSources={!!sources?.length}
              isFiltered={isFiltered(search)}
              onAdd={() => open('add')}
              onClear={() => void navigate({ search: {}, replace: true })}
            />
          ) : (
            <Rows
              rows={rows}
              chosen={search.event}
              isNarrow={!!search.panel && search.panel !== 'event'}
              selection={mayEdit ? selection : undefined}
              onChoose={(event) => open('event', { event })}
              onEnd={() => {
                if (events.hasNextPage && !events.isFetchingNextPage) void events.fetchNextPage();
              }}
            />
          )}
          <SelectionBar selection={selection} total={total} isMore={!!first?.totalIsMore} filter={filter} onDeleted={setUndo} />
          {undo && <UndoBar undo={undo} onDone={() => setUndo(undefined)} />}
        </div>
        {(search.panel === 'event' || !search.panel) && search.event && (
          <EventPanel
            // What is typed about one event is never saved to another.
            key={search.event}
            eventId={search.event}
            onClose={() => open(undefined, { event: undefined })}
            onDeleted={setUndo}
          />
        )}
        {search.panel === 'source' && search.id && (
          <SourcePanel
            key={search.id}
            sourceId={search.id}
            onClose={() => open(undefined, { id: undefined })}
            onFilter={(source) => set({ source, hours: 0 })}
            onImport={() => open('import')}
          />
        )}
        {search.panel === 'add' && (
          <AddSourcePanel onClose={() => open(undefined)} onAdded={(id, next) => open(next === 'import' ? 'import' : 'source', { id })} />
        )}
        {search.panel === 'import' && <ImportPanel source={search.id} onClose={() => open(undefined)} />}
        {search.panel === 'erase' && <ErasePanel onClose={() => open(undefined)} />}
        {search.panel === 'care' && <CarePanel onClose={() => open(undefined)} />}
      </div>
    </div>
  );
}

const isFiltered = (search: { source?: string; kind?: string; state?: string; page?: string; text?: string }) =>
  !!(search.source || search.kind || search.state || search.page || search.text);

function Empty({ hasSources, isFiltered, onAdd, onClear }: { hasSources: boolean; isFiltered: boolean; onAdd(): void; onClear(): void }) {
  if (!hasSources)
    return (
      <div className="grid max-w-[560px] gap-3 p-6">
        <h2 className="text-[17px] leading-6">No sources yet</h2>
        <p>
          A source is a way in for events: a form on your site, your shop's orders, a file of past ones. Page views are recorded already,
          from the moment the snippet is heard.
        </p>
        <p>
          <Button kind="primary" onClick={onAdd}>
            Add a source
          </Button>
        </p>
      </div>
    );
  return (
    <div className="grid max-w-[560px] gap-3 p-6 text-soft">
      <p>
        {isFiltered
          ? 'No event passes this filter.'
          : 'Nothing arrived in this period. Try the shop on your site, send a test from a source, or choose a longer period above; what arrives shows here by itself.'}
      </p>
      {isFiltered && (
        <p>
          <Button onClick={onClear}>Show everything</Button>
        </p>
      )}
    </div>
  );
}
