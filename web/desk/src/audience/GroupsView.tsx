import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { ArrowDown, ArrowUp } from 'lucide-react';
import { groupsQuery } from '../catalogue/api';
import { Failed, Waiting } from '../kit/Notice';
import { Refused } from '../kit/Panel';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { orderGroups } from './api';

/** Columns that stay where there is little room. */
const NARROW = new Set(['Page group', 'Known pages', 'Lane']);

/** The site's page groups in the order of the run sheet's lanes. */
export function GroupsView({ chosen, onChoose }: { chosen: string | undefined; onChoose(id: string): void }) {
  const { site, member } = useDesk();
  const queries = useQueryClient();
  const list = useQuery(groupsQuery(site.id));
  const order = useMutation({
    mutationFn: (ids: string[]) => orderGroups(site.id, ids),
    onSettled: () => {
      for (const key of ['page-groups', 'run-sheet']) void queries.invalidateQueries({ queryKey: [key] });
    },
  });
  if (list.isError) return <Failed error={list.error} again={() => void list.refetch()} />;
  if (!list.data) return <Waiting>Fetching the page groups</Waiting>;
  if (list.data.length === 0)
    return (
      <p className="max-w-[560px] p-6 text-soft">
        There is no page group yet. A page group is a named set of page patterns: callouts name it in their Where, and the run sheet has a
        lane for each.
      </p>
    );
  const ids = list.data.map((g) => g.id);
  const swap = (place: number, by: 1 | -1) => {
    const after = [...ids];
    const [moved] = after.splice(place, 1);
    if (moved) after.splice(place + by, 0, moved);
    order.mutate(after);
  };
  return (
    <>
      <Refused error={order.error} />
      <table className="w-full border-collapse bg-sheet">
        <thead className="sticky top-0 z-10 bg-paper">
          <tr className="border-b border-ink text-start">
            {['Page group', 'Known pages', 'Views a day', 'Used by', 'Lane'].map((words) => (
              <th
                key={words}
                scope="col"
                className={`px-4 py-2 text-start font-semibold text-soft ${NARROW.has(words) ? '' : 'max-md:hidden'}`}
              >
                {words}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {list.data.map((group, place) => (
            <tr key={group.id} className={`border-b border-hair align-top ${group.id === chosen ? 'bg-selectwash' : 'hover:bg-sheet2'}`}>
              <td className="px-4 py-2">
                <button
                  type="button"
                  onClick={() => onChoose(group.id)}
                  aria-expanded={group.id === chosen}
                  className="text-start font-semibold hover:underline"
                >
                  {group.name}
                </button>
                <div className="font-mono text-[12px] leading-4 text-soft">
                  {group.includes.join(', ')}
                  {group.excludes.length > 0 && <span className="font-sans"> but not {group.excludes.join(', ')}</span>}
                </div>
              </td>
              <td className="px-4 py-2">{group.pages}</td>
              <td className="px-4 py-2 max-md:hidden">{Math.round(group.viewsADay).toLocaleString('en-GB')}</td>
              <td className="px-4 py-2 max-md:hidden">
                {group.usedBy.length === 0 ? <span className="text-soft">nothing</span> : group.usedBy.map((u) => u.name).join(', ')}
              </td>
              <td className="px-4 py-1 whitespace-nowrap">
                {mayAct(member, 'draft') && (
                  <>
                    <Move label={`Move ${group.name} up`} disabled={place === 0 || order.isPending} onClick={() => swap(place, -1)}>
                      <ArrowUp className="h-4 w-4" />
                    </Move>
                    <Move
                      label={`Move ${group.name} down`}
                      disabled={place === ids.length - 1 || order.isPending}
                      onClick={() => swap(place, 1)}
                    >
                      <ArrowDown className="h-4 w-4" />
                    </Move>
                  </>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

function Move({ label, disabled, onClick, children }: { label: string; disabled: boolean; onClick(): void; children: React.ReactNode }) {
  return (
    <button
      type="button"
      aria-label={label}
      disabled={disabled}
      onClick={onClick}
      className="inline-grid h-8 w-8 place-items-center rounded hover:bg-hair disabled:opacity-30"
    >
      {children}
    </button>
  );
}
