import { useMutation, useQuery } from '@tanstack/react-query';
import { Link, useNavigate, useSearch } from '@tanstack/react-router';
import { DropdownMenu } from 'radix-ui';
import { DefinitionMoves } from '../drafting/DefinitionMoves';
import { emptyShelf, ShelfMenu } from '../drafting/ShelfMenu';
import { Button } from '../kit/Button';
import { Failed, Waiting } from '../kit/Notice';
import { Refused } from '../kit/Panel';
import { plural } from '../kit/plural';
import { StateSign } from '../kit/StateSign';
import { ago, day } from '../kit/time';
import { useNow } from '../kit/useNow';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { useTitle } from '../session/useTitle';
import { type Purpose, scriptsQuery, startScript } from './api';

const PURPOSES: readonly (readonly [Purpose, string])[] = [
  ['qualify', 'Sort buyers from lookers'],
  ['book', 'Book a time'],
  ['complaint', 'Take a complaint'],
  ['questions', 'Answer what is asked often'],
  ['order', 'Help with an order'],
  ['awayHours', 'Cover closed hours'],
  ['own', 'From one question'],
];

/** Every script of the site. */
export function ScriptsPage() {
  const { site, member } = useDesk();
  const { shelf } = useSearch({ from: '/scripts' });
  const navigate = useNavigate({ from: '/scripts' });
  const now = useNow(60_000);
  useTitle('Scripts');
  const list = useQuery(scriptsQuery(site.id, shelf));
  const start = useMutation({
    mutationFn: (purpose: Purpose) => startScript(site.id, purpose),
    onSuccess: (made) => void navigate({ to: '/scripts/$scriptId', params: { scriptId: made.id } }),
  });
  if (list.isError) return <Failed page="Scripts" error={list.error} again={() => void list.refetch()} />;
  if (!list.data) return <Waiting page="Scripts">Fetching the scripts</Waiting>;
  return (
    <div className="flex h-full flex-col">
      <div className="flex min-h-[52px] flex-none flex-wrap items-center gap-x-4 gap-y-1 border-b border-ink px-4 py-2">
        <h1 className="text-[22px] leading-7">Scripts</h1>
        <ShelfMenu kind="scripts" shelf={shelf} onShelf={(to) => void navigate({ search: to ? { shelf: to } : {}, replace: true })} />
        <span className="text-soft">{plural(list.data.length, 'script')}</span>
        <Link to="/launchers" className="text-cobalt hover:underline">
          Launchers
        </Link>
        {mayAct(member, 'draft') && (
          <DropdownMenu.Root modal={false}>
            <DropdownMenu.Trigger asChild>
              <Button kind="primary" className="ms-auto" disabled={start.isPending}>
                New script
              </Button>
            </DropdownMenu.Trigger>
            <DropdownMenu.Portal>
              <DropdownMenu.Content align="end" sideOffset={6} className="z-50 min-w-56 rounded border border-ink bg-sheet p-1 shadow-lg">
                {PURPOSES.map(([purpose, words]) => (
                  <DropdownMenu.Item
                    key={purpose}
                    onSelect={() => start.mutate(purpose)}
                    className="flex min-h-8 cursor-pointer items-center rounded px-2 outline-none data-[highlighted]:bg-selectwash"
                  >
                    {words}
                  </DropdownMenu.Item>
                ))}
              </DropdownMenu.Content>
            </DropdownMenu.Portal>
          </DropdownMenu.Root>
        )}
        <Refused error={start.error} />
      </div>
      {list.data.length === 0 && shelf ? (
        <p className="p-6 text-soft">{emptyShelf(shelf, 'script')}</p>
      ) : list.data.length === 0 ? (
        <div className="grid max-w-[560px] gap-3 p-6">
          <h2 className="text-[17px] leading-6">Ask first what must be asked</h2>
          <p>
            A script begins the talks of a launcher: it asks, keeps the answers, and hands over to whoever is there. Choose one under the
            launcher’s look and words once it is live.
          </p>
        </div>
      ) : (
        <ul className="min-h-0 flex-1 overflow-auto bg-sheet">
          {list.data.map((script) => (
            <li key={script.id} className="flex items-baseline gap-3 border-b border-hair px-4 py-3 hover:bg-sheet2">
              <span className="w-24 flex-none">
                <StateSign state={script.state} />
                {script.goneAt && <span className="block text-[12px] leading-4 text-warn">gone for good on {day(script.goneAt)}</span>}
              </span>
              <span className="min-w-0 flex-1">
                {script.goneAt ? (
                  <span className="font-semibold">{script.name}</span>
                ) : (
                  <Link to="/scripts/$scriptId" params={{ scriptId: script.id }} className="font-semibold hover:underline">
                    {script.name}
                  </Link>
                )}
                <span className="block text-[12px] leading-4 text-soft">
                  {plural(script.draft.steps.length, 'step')}, changed {ago(script.changedAt, now)} by {script.changedBy}
                </span>
              </span>
              <DefinitionMoves noun="script" of={script} onMoved={() => void list.refetch()} />
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
