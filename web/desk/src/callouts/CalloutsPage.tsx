import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link, useNavigate, useSearch } from '@tanstack/react-router';
import { Ellipsis } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { useState } from 'react';
import { useDesk } from '../app/desk';
import { ago, clock, day } from '../lib/time';
import { useNow } from '../lib/useNow';
import { mayAct } from '../session/model';
import { Failed, Waiting } from '../ui/Notice';
import { PhraseMenu } from '../ui/PhraseMenu';
import { StateSign } from '../ui/StateSign';
import { type CalloutListItem, calloutsQuery, type Move, moveCallout, startCallout } from './api';
import { NewCallout } from './NewCallout';
import { useNames } from './useNames';
import { triggerWords } from './when';
import { KINDS, messageWords, pageWords } from './words';

type SortKey = 'name' | 'shown' | 'closed' | 'changedAt';

const SORTS: Record<SortKey, (c: CalloutListItem) => string | number> = {
  name: (c) => c.name.toLowerCase(),
  shown: (c) => c.figures.shown,
  closed: (c) => c.figures.closed,
  changedAt: (c) => c.changedAt,
};

/** Every callout with its state, what it says, and how it fares. */
export function CalloutsPage() {
  const { site, member } = useDesk();
  const { archived = false } = useSearch({ from: '/callouts' });
  const navigate = useNavigate({ from: '/callouts' });
  const list = useQuery(calloutsQuery(site.id, archived));
  const [sort, setSort] = useState<{ key: SortKey; down: boolean }>({ key: 'shown', down: true });
  const start = useMutation({
    mutationFn: (kind: CalloutListItem['brief']['kind']) => startCallout(site.id, { source: null, copyOf: null, pageGroup: null, kind }),
    onSuccess: (made) => void navigate({ to: '/callouts/$calloutId', params: { calloutId: made.id } }),
  });

  if (list.isError) return <Failed error={list.error} again={() => void list.refetch()} />;
  if (!list.data) return <Waiting>Fetching the callouts</Waiting>;
  const rank = SORTS[sort.key];
  const rows = [...list.data].sort((a, b) => (rank(a) < rank(b) ? -1 : rank(a) > rank(b) ? 1 : 0) * (sort.down ? -1 : 1));
  const heading = (key: SortKey, words: string, className = '') => (
    <Heading
      words={words}
      className={className}
      sorted={sort.key === key ? (sort.down ? 'descending' : 'ascending') : 'none'}
      onSort={() => setSort((s) => ({ key, down: s.key === key ? !s.down : key !== 'name' }))}
    />
  );
  return (
    <div className="flex h-full flex-col">
      <div className="flex min-h-14 flex-none flex-wrap items-center gap-x-5 border-b border-ink px-4 py-2">
        <h1 className="text-[22px] leading-7">Callouts</h1>
        <p className="font-display text-[16px] leading-[26px]">
          Showing{' '}
          <PhraseMenu
            facet="from"
            label="Showing"
            value={archived ? 'archived' : 'working'}
            choices={[
              ['working', 'all that are in work'],
              ['archived', 'those put away'],
            ]}
            onChoose={(v) => void navigate({ search: { archived: v === 'archived' || undefined } })}
          />
        </p>
        {mayAct(member.role, 'editor') && (
          <span className="ms-auto">
            <NewCallout disabled={start.isPending} onStart={(kind) => start.mutate(kind)} />
          </span>
        )}
      </div>
      {start.isError && <Failed error={start.error} />}
      <div className="min-h-0 flex-1 overflow-auto">
        {rows.length === 0 ? (
          <p className="p-6 text-soft">
            {archived
              ? 'Nothing has been put away.'
              : 'There is no callout yet. A new one begins with values that are good enough to leave alone.'}
          </p>
        ) : (
          <table className="w-full border-collapse bg-sheet text-[13px]">
            <thead className="sticky top-0 z-10 bg-paper">
              <tr className="border-b border-ink text-start">
                <th scope="col" className="px-4 py-2 text-start font-semibold text-soft">
                  State
                </th>
                {heading('name', 'What it says')}
                {heading('shown', 'Shown', 'text-end')}
                <th scope="col" className="px-2 py-2 text-end font-semibold text-soft">
                  Clicked
                </th>
                {heading('closed', 'Closed', 'text-end')}
                <th scope="col" className="px-2 py-2 text-start font-semibold text-soft max-md:hidden">
                  Last shown
                </th>
                {heading('changedAt', 'Changed', 'max-md:hidden')}
                <th scope="col" className="w-12">
                  <span className="sr-only">Acts</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {rows.map((row) => (
                <Row key={row.id} row={row} />
              ))}
            </tbody>
          </table>
        )}
      </div>
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
      <button type="button" onClick={onSort} className="font-semibold text-soft hover:text-ink">
        {words}
        <span aria-hidden="true">{sorted === 'descending' ? ' ↓' : sorted === 'ascending' ? ' ↑' : ''}</span>
      </button>
    </th>
  );
}

function Row({ row }: { row: CalloutListItem }) {
  const now = useNow(10_000);
  const { shown, clicked, closed, lastShownAt } = row.figures;
  return (
    <tr className="border-b border-hair align-top hover:bg-sheet2">
      <td className="px-4 py-2.5">
        <StateSign state={row.state} />
        {row.hasChanges && <div className="text-[12px] leading-4 text-warn">draft differs</div>}
      </td>
      <td className="max-w-[520px] px-2 py-2.5">
        <Link to="/callouts/$calloutId" params={{ calloutId: row.id }} className="font-semibold hover:underline">
          {row.name}
        </Link>
        <div className="overflow-hidden text-ellipsis">{messageWords(row.brief.say.message)}</div>
        <div className="overflow-hidden text-[12px] leading-4 text-ellipsis text-soft">
          {KINDS[row.brief.kind].name.toLowerCase()} in {row.brief.look.shape === 'inset' ? 'an' : 'a'} {row.brief.look.shape}, on{' '}
          <Pages where={row.brief.where} />, {triggerWords(row.brief.when)}
        </div>
      </td>
      <Figure value={shown} />
      <Figure value={clicked} of={shown} />
      <Figure value={closed} of={shown} />
      <td className="px-2 py-2.5 whitespace-nowrap max-md:hidden">
        {lastShownAt ? (
          ago(lastShownAt, now)
        ) : (
          <span className="text-soft">{row.state === 'live' ? 'waiting for its first' : 'never'}</span>
        )}
      </td>
      <td className="px-2 py-2.5 whitespace-nowrap max-md:hidden">
        <div>{row.changedBy}</div>
        <div className="text-[12px] leading-4 text-soft">
          {day(row.changedAt)}, {clock(row.changedAt)}
        </div>
      </td>
      <td className="px-2 py-1.5">
        <Acts row={row} />
      </td>
    </tr>
  );
}

function Pages({ where }: { where: CalloutListItem['brief']['where'] }) {
  const { groups } = useNames();
  const named = where.groups.map((id) => groups.find((g) => g.id === id)?.name ?? 'a group that is gone');
  return named.length > 0 ? [...named, ...where.includes].join(', ') : pageWords(where.includes);
}

function Figure({ value, of }: { value: number; of?: number }) {
  return (
    <td className="px-2 py-2.5 text-end whitespace-nowrap">
      <div>{value.toLocaleString('en-GB')}</div>
      {of !== undefined && of > 0 && <div className="text-[12px] leading-4 text-soft">{((value / of) * 100).toFixed(1)} %</div>}
    </td>
  );
}

function Acts({ row }: { row: CalloutListItem }) {
  const { site, member } = useDesk();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const move = useMutation({
    mutationFn: (m: Move) => moveCallout(site.id, row.id, m),
    onSettled: () => void queries.invalidateQueries({ queryKey: ['callouts'] }),
  });
  const copy = useMutation({
    mutationFn: () => startCallout(site.id, { copyOf: row.id, source: null, pageGroup: null, kind: null }),
    onSuccess: (made) => void navigate({ to: '/callouts/$calloutId', params: { calloutId: made.id } }),
  });
  const publisher = mayAct(member.role, 'publisher');
  const acts: [string, () => void][] = [];
  if (row.state === 'live' && publisher) acts.push(['Pause', () => move.mutate('pause')]);
  if (row.state === 'paused' && publisher) acts.push(['Resume', () => move.mutate('resume')]);
  acts.push(['Duplicate', () => copy.mutate()]);
  if (row.state === 'draft' || row.state === 'paused') acts.push(['Put away', () => move.mutate('archive')]);
  if (row.state === 'archived') acts.push(['Fetch back', () => move.mutate('restore')]);
  if (!mayAct(member.role, 'editor')) return null;
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger
        aria-label={`Acts on ${row.name}`}
        className="grid h-8 w-8 place-items-center rounded hover:bg-hair max-sm:h-11 max-sm:w-11"
      >
        <Ellipsis className="h-4 w-4" />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" className="z-50 min-w-36 rounded border border-ink bg-sheet p-1 shadow-lg">
          {acts.map(([words, act]) => (
            <DropdownMenu.Item
              key={words}
              onSelect={act}
              className="flex min-h-8 cursor-pointer items-center rounded px-2 outline-none data-[highlighted]:bg-selectwash"
            >
              {words}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
