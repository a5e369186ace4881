import { useMutation, useQuery } from '@tanstack/react-query';
import { Link, useNavigate, useSearch } from '@tanstack/react-router';
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
import { followUpsQuery, startFollowUp } from './api';

/** Every follow-up of the site. */
export function FollowUpsPage() {
  const { site, member } = useDesk();
  const { shelf } = useSearch({ from: '/followups' });
  const navigate = useNavigate({ from: '/followups' });
  const now = useNow(60_000);
  useTitle('Follow-ups');
  const list = useQuery(followUpsQuery(site.id, shelf));
  const start = useMutation({
    mutationFn: () => startFollowUp(site.id),
    onSuccess: (made) => void navigate({ to: '/followups/$followUpId', params: { followUpId: made.id } }),
  });
  if (list.isError) return <Failed page="Follow-ups" error={list.error} again={() => void list.refetch()} />;
  if (!list.data) return <Waiting page="Follow-ups">Fetching the follow-ups</Waiting>;
  return (
    <div className="flex h-full flex-col">
      <div className="flex min-h-[52px] flex-none flex-wrap items-center gap-x-4 gap-y-1 border-b border-ink px-4 py-2">
        <h1 className="text-[22px] leading-7">Follow-ups</h1>
        <ShelfMenu kind="follow-ups" shelf={shelf} onShelf={(to) => void navigate({ search: to ? { shelf: to } : {}, replace: true })} />
        <span className="text-soft">{plural(list.data.length, 'follow-up')}</span>
        <Link to="/leads" className="text-cobalt hover:underline">
          Leads
        </Link>
        {mayAct(member, 'draft') && (
          <Button kind="primary" className="ms-auto" disabled={start.isPending} onClick={() => start.mutate()}>
            New follow-up
          </Button>
        )}
        <Refused error={start.error} />
      </div>
      {list.data.length === 0 && shelf ? (
        <p className="p-6 text-soft">{emptyShelf(shelf, 'follow-up')}</p>
      ) : list.data.length === 0 ? (
        <div className="grid max-w-[560px] gap-3 p-6">
          <h2 className="text-[17px] leading-6">Write again, when they asked you to</h2>
          <p>
            A follow-up writes to those who said yes: a few mails with days between. It ends by itself for whoever takes it back, buys, or
            writes to you. Nobody gets more than one such mail a day, whatever they said yes to.
          </p>
        </div>
      ) : (
        <ul className="min-h-0 flex-1 overflow-auto bg-sheet">
          {list.data.map((f) => (
            <li key={f.id} className="flex items-baseline gap-3 border-b border-hair px-4 py-3 hover:bg-sheet2">
              <span className="w-24 flex-none">
                <StateSign state={f.state} />
                {f.goneAt && <span className="block text-[12px] leading-4 text-warn">gone for good on {day(f.goneAt)}</span>}
              </span>
              <span className="min-w-0 flex-1">
                {f.goneAt ? (
                  <span className="font-semibold">{f.name}</span>
                ) : (
                  <Link to="/followups/$followUpId" params={{ followUpId: f.id }} className="font-semibold hover:underline">
                    {f.name}
                  </Link>
                )}
                <span className="block text-[12px] leading-4 text-soft">
                  {plural(f.draft.steps.filter((s) => s.kind === 'mail').length, 'mail')}, changed {ago(f.changedAt, now)} by {f.changedBy}
                </span>
              </span>
              <DefinitionMoves noun="followup" of={f} onMoved={() => void list.refetch()} />
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
