import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { Button } from '../kit/Button';
import { Refused } from '../kit/Panel';
import { clock } from '../kit/time';
import { useDesk } from '../session/desk';
import { changeEvents, type EventAct, type LedgerFilter } from './api';
import type { Selection } from './useSelection';

/** What can be done with the chosen events. */
export function SelectionBar({
  selection,
  total,
  isMore,
  filter,
  onDeleted,
}: {
  selection: Selection;
  total: number;
  isMore: boolean;
  filter: LedgerFilter;
  onDeleted(undo: { ids: readonly string[]; until: string }): void;
}) {
  const { site } = useDesk();
  const queries = useQueryClient();
  const act = useMutation({
    mutationFn: (what: EventAct) =>
      changeEvents(site.id, what, selection.isAll ? [] : [...selection.ids], selection.isAll ? filter : undefined),
    onSuccess: (changed) => {
      selection.clear();
      if (changed.undoUntil) onDeleted({ ids: changed.ids, until: changed.undoUntil });
      for (const key of ['events', 'event', 'sources', 'strip']) void queries.invalidateQueries({ queryKey: [key] });
    },
  });
  if (selection.ids.size === 0) return null;
  const many = `${total.toLocaleString('en-GB')}${isMore ? '+' : ''}`;
  return (
    <div
      role="region"
      aria-label="Chosen events"
      className="flex flex-none flex-wrap items-center gap-2 border-t border-ink bg-selectwash px-4 py-2"
    >
      <b>{selection.isAll ? `All ${many} that pass the filter` : `${selection.ids.size} chosen`}</b>
      {!selection.isAll && total > selection.ids.size && (
        <Button kind="link" onClick={selection.chooseAll}>
          Choose all {many}
        </Button>
      )}
      <span className="ms-auto flex gap-2">
        <Button disabled={act.isPending} onClick={() => act.mutate('release')}>
          Approve
        </Button>
        <Button disabled={act.isPending} onClick={() => act.mutate('hide')}>
          Hide
        </Button>
        <Button kind="danger" disabled={act.isPending} onClick={() => act.mutate('delete')}>
          Delete
        </Button>
        <Button kind="link" onClick={selection.clear}>
          None
        </Button>
      </span>
      <Refused error={act.error} />
    </div>
  );
}

/** For ten minutes a deletion can be taken back. */
export function UndoBar({ undo, onDone }: { undo: { ids: readonly string[]; until: string }; onDone(): void }) {
  const { site } = useDesk();
  const queries = useQueryClient();
  const restore = useMutation({
    mutationFn: async () => {
      // The server takes a thousand at a time.
      for (let at = 0; at < undo.ids.length; at += 1000) await changeEvents(site.id, 'restore', undo.ids.slice(at, at + 1000));
    },
    onSuccess: () => {
      onDone();
      for (const key of ['events', 'event', 'sources', 'strip']) void queries.invalidateQueries({ queryKey: [key] });
    },
  });
  useEffect(() => {
    const timer = setTimeout(onDone, Math.max(0, Date.parse(undo.until) - Date.now()));
    return () => clearTimeout(timer);
  }, [undo, onDone]);
  return (
    <div role="status" className="flex flex-none flex-wrap items-center gap-3 border-t border-ink bg-goldwash px-4 py-2">
      <span>
        {undo.ids.length === 1 ? 'One event' : `${undo.ids.length.toLocaleString('en-GB')} events`} deleted. It can be taken back until{' '}
        {clock(undo.until)}.
      </span>
      <Button onClick={() => restore.mutate()} disabled={restore.isPending}>
        Undo
      </Button>
      <Refused error={restore.error} />
    </div>
  );
}
