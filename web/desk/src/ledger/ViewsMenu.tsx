import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useNavigate, useSearch } from '@tanstack/react-router';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { Button } from '../kit/Button';
import { Refused } from '../kit/Panel';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { deleteView, saveView, viewsQuery } from './api';

const KEPT = ['source', 'kind', 'state', 'page', 'text', 'hours'] as const;

/** Filters under a name, shared by the team. */
export function ViewsMenu() {
  const { site, member } = useDesk();
  const search = useSearch({ from: '/ledger' });
  const navigate = useNavigate({ from: '/ledger' });
  const queries = useQueryClient();
  const views = useQuery(viewsQuery(site.id));
  const [open, setOpen] = useState(false);
  const refresh = () => void queries.invalidateQueries({ queryKey: ['views'] });
  const query = new URLSearchParams(KEPT.flatMap((k) => (search[k] === undefined ? [] : [[k, String(search[k])]]))).toString();
  const save = useMutation({ mutationFn: (name: string) => saveView(site.id, name, query), onSuccess: refresh });
  const remove = useMutation({ mutationFn: (id: string) => deleteView(site.id, id), onSuccess: refresh });
  const mayEdit = mayAct(member, 'draft');

  function show(kept: string) {
    const read = Object.fromEntries(new URLSearchParams(kept));
    void navigate({ search: { ...read, ...(read.hours ? { hours: Number(read.hours) } : {}) }, replace: true });
    setOpen(false);
  }

  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <Button>Views</Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={6}
          aria-label="Saved views"
          className="z-50 grid w-72 gap-3 rounded border border-ink bg-sheet p-3 shadow-lg"
        >
          {views.data?.length === 0 && (
            <p className="text-soft">No view is saved yet. Filter the ledger, then give the filter a name here.</p>
          )}
          <ul>
            {views.data?.map((view) => (
              <li key={view.id} className="flex items-center gap-2 border-b border-hair py-1">
                <Button kind="link" className="flex-1 !justify-start" onClick={() => show(view.query)}>
                  {view.name}
                </Button>
                <span className="text-[12px] text-soft">{view.by.split(' ')[0]}</span>
                {mayEdit && (
                  <Button kind="link" aria-label={`Delete the view ${view.name}`} onClick={() => remove.mutate(view.id)}>
                    Delete
                  </Button>
                )}
              </li>
            ))}
          </ul>
          {mayEdit && (
            <form
              className="flex gap-2"
              onSubmit={(event) => {
                event.preventDefault();
                const input = event.currentTarget.elements.namedItem('name') as HTMLInputElement;
                if (input.value.trim()) save.mutate(input.value, { onSuccess: () => (input.value = '') });
              }}
            >
              <input
                name="name"
                aria-label="Name of the view"
                placeholder="Name for this filter"
                maxLength={60}
                className="min-w-0 flex-1 placeholder:text-soft"
              />
              <Button type="submit" disabled={save.isPending}>
                Save
              </Button>
            </form>
          )}
          <Refused error={save.error ?? remove.error} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
