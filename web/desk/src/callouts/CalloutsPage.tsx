import { useMutation, useQuery } from '@tanstack/react-query';
import { useNavigate, useSearch } from '@tanstack/react-router';
import { useState } from 'react';
import { KIND_ORDER, KINDS } from '../brief/words';
import { calloutsQuery } from '../catalogue/api';
import { Failed, Waiting } from '../kit/Notice';
import { PhraseMenu } from '../kit/PhraseMenu';
import { plural } from '../kit/plural';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { useTitle } from '../session/useTitle';
import { startCallout } from './api';
import { CalloutRow } from './CalloutRow';
import { ChosenBar } from './ChosenBar';
import { type Listing, listed, type SortKey } from './listing';
import { NewCallout } from './NewCallout';

const COLUMNS: readonly (readonly [SortKey, string, string])[] = [
  ['state', 'State', 'ps-1'],
  ['name', 'What it says', ''],
  ['shown', 'Shown', 'text-end'],
  ['clicked', 'Clicked', 'text-end'],
  ['closed', 'Closed', 'text-end'],
  ['lastShown', 'Last shown', 'max-md:hidden'],
  ['changed', 'Changed', 'max-md:hidden'],
];

/** Every callout with its state, what it says, how it fares, and what of it wants looking at. */
export function CalloutsPage() {
  const { site, member } = useDesk();
  const listing = useSearch({ from: '/callouts' });
  const navigate = useNavigate({ from: '/callouts' });
  useTitle('Callouts');
  const list = useQuery(calloutsQuery(site.id, listing.shelf));
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const put = (change: Listing) => void navigate({ search: (before) => ({ ...before, ...change }), replace: true });
  const start = useMutation({
    mutationFn: (from: Parameters<typeof startCallout>[1]) => startCallout(site.id, from),
    onSuccess: (made) => void navigate({ to: '/callouts/$calloutId', params: { calloutId: made.id } }),
  });

  if (list.isError) return <Failed page="Callouts" error={list.error} again={() => void list.refetch()} />;
  if (!list.data) return <Waiting page="Callouts">Fetching the callouts</Waiting>;
  const groups = listed(list.data, listing);
  const rows = groups.flatMap((g) => g.rows);
  const isGrouped = groups.some((g) => g.group !== '');
  const mayEdit = mayAct(member, 'draft');
  const toggle = (id: string) => {
    const next = new Set(chosen);
    if (!next.delete(id)) next.add(id);
    setChosen(next);
  };
  const shownChosen = rows.filter((r) => chosen.has(r.id));
  return (
    <div className="flex h-full flex-col">
      <div className="flex min-h-14 flex-none flex-wrap items-center gap-x-5 gap-y-1 border-b border-ink px-4 py-2">
        <h1 className="text-[22px] leading-7">Callouts</h1>
        <p className="font-display text-[16px] leading-[28px]">
          Showing{' '}
          <PhraseMenu
            facet="from"
            label="State"
            value={listing.shelf ?? listing.state ?? ''}
            choices={[
              ['', 'all current callouts'],
              ['live', 'those that are live'],
              ['scheduled', 'those that are scheduled'],
              ['ended', 'those that have ended'],
              ['paused', 'those that are paused'],
              ['draft', 'those never published'],
              ['noted', 'those that need attention'],
              ['archived', 'those archived'],
              ['deleted', 'those deleted lately'],
            ]}
            onChoose={(v) => {
              setChosen(new Set());
              put({
                shelf: v === 'archived' || v === 'deleted' ? v : undefined,
                state: v === '' || v === 'archived' || v === 'deleted' ? undefined : (v as Listing['state']),
              });
            }}
          />{' '}
          of{' '}
          <PhraseMenu
            facet="say"
            label="Kind"
            value={listing.kind ?? ''}
            choices={[['', 'any kind'], ...KIND_ORDER.map((k) => [k, KINDS[k].name.toLowerCase()] as const)]}
            onChoose={(kind) => put({ kind: kind || undefined })}
          />{' '}
          with{' '}
          <input
            type="search"
            aria-label="Words in name, wording or pages"
            placeholder="any words"
            value={listing.text ?? ''}
            onChange={(e) => put({ text: e.currentTarget.value || undefined })}
            className="!min-h-7 w-40 font-sans text-[13px] placeholder:text-soft"
          />
        </p>
        <span role="status" className="text-soft">
          {rows.length < list.data.length ? `${rows.length} of ${plural(list.data.length, 'callout')}` : plural(rows.length, 'callout')}
        </span>
        {mayEdit && (
          <span className="ms-auto">
            <NewCallout disabled={start.isPending} onStart={(from) => start.mutate(from)} />
          </span>
        )}
      </div>
      {start.isError && <Failed error={start.error} />}
      <div className="min-h-0 flex-1 overflow-auto">
        {rows.length === 0 ? (
          <p className="max-w-[560px] p-6 text-soft">
            {list.data.length > 0
              ? 'No callout passes this filter.'
              : listing.shelf
                ? `Nothing ${listing.shelf === 'archived' ? 'is archived' : 'was deleted in the last 30 days'}.`
                : 'There is no callout yet. A new one begins with values that are good enough to leave alone.'}
          </p>
        ) : (
          <table className="w-full border-collapse bg-sheet text-[13px]">
            <thead className="sticky top-0 z-10 bg-paper">
              <tr className="border-b border-ink text-start">
                <th scope="col" className="w-10 ps-4">
                  {mayEdit && (
                    <input
                      type="checkbox"
                      aria-label="Choose all that are shown"
                      checked={shownChosen.length === rows.length}
                      onChange={(e) => setChosen(new Set(e.currentTarget.checked ? rows.map((r) => r.id) : []))}
                    />
                  )}
                </th>
                {COLUMNS.map(([key, words, className]) => (
                  <Heading
                    key={key}
                    words={words}
                    className={className}
                    sorted={(listing.sort ?? 'shown') === key ? (listing.up ? 'ascending' : 'descending') : 'none'}
                    onSort={() =>
                      put({ sort: key, up: (listing.sort ?? 'shown') === key ? !listing.up || undefined : key === 'name' || undefined })
                    }
                  />
                ))}
                <th scope="col" className="w-12">
                  <span className="sr-only">Acts</span>
                </th>
              </tr>
            </thead>
            {groups.map(({ group, rows: own }) => (
              <tbody key={group}>
                {isGrouped && (
                  <tr className="border-b border-ink bg-sheet2">
                    <th scope="rowgroup" colSpan={9} className="px-4 py-1.5 text-start font-display text-[14px] font-semibold">
                      {group || 'In no group'} <span className="font-sans text-[12px] font-normal text-soft">{own.length}</span>
                    </th>
                  </tr>
                )}
                {own.map((row) => (
                  <CalloutRow key={row.id} row={row} isChosen={chosen.has(row.id)} onChoose={mayEdit ? () => toggle(row.id) : undefined} />
                ))}
              </tbody>
            ))}
          </table>
        )}
      </div>
      {shownChosen.length > 0 && (
        <ChosenBar
          chosen={shownChosen}
          groups={[...new Set(list.data.map((c) => c.group).filter(Boolean))]}
          onClear={() => setChosen(new Set())}
        />
      )}
    </div>
  );
}

function Heading({
  words,
  sorted,
  className,
  onSort,
}: {
  words: string;
  sorted: 'ascending' | 'descending' | 'none';
  className: string;
  onSort(): void;
}) {
  return (
    <th scope="col" aria-sort={sorted} className={`px-2 py-2 text-start ${className}`}>
      <button type="button" onClick={onSort} className="font-semibold whitespace-nowrap text-soft hover:text-ink">
        {words}
        <span aria-hidden="true">{sorted === 'descending' ? ' ↓' : sorted === 'ascending' ? ' ↑' : ''}</span>
      </button>
    </th>
  );
}
