import { useMutation, useQuery } from '@tanstack/react-query';
import { Link, useNavigate, useSearch } from '@tanstack/react-router';
import { useNames } from '../brief/useNames';
import { launchersQuery } from '../callouts/greetings';
import type { Shelf } from '../data/shelf';
import { DefinitionMoves } from '../drafting/DefinitionMoves';
import { emptyShelf, ShelfMenu } from '../drafting/ShelfMenu';
import { Button } from '../kit/Button';
import { Failed, Waiting } from '../kit/Notice';
import { plural } from '../kit/plural';
import { StateSign } from '../kit/StateSign';
import { ago, day } from '../kit/time';
import { useNow } from '../kit/useNow';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { useTitle } from '../session/useTitle';
import { type Launcher, startLauncher } from './api';
import { CHANNELS, positionWords, standsForWords, whereWords } from './words';

/** Every launcher of the site: where it stands, for whom, how one talks there. */
export function LaunchersPage() {
  const { site, member } = useDesk();
  const { shelf } = useSearch({ from: '/launchers' });
  const navigate = useNavigate({ from: '/launchers' });
  useTitle('Launchers');
  const list = useQuery(launchersQuery(site.id, shelf));
  const start = useMutation({
    mutationFn: () => startLauncher(site.id),
    onSuccess: (made) => void navigate({ to: '/launchers/$launcherId', params: { launcherId: made.id } }),
  });
  if (list.isError) return <Failed page="Launchers" error={list.error} again={() => void list.refetch()} />;
  if (!list.data) return <Waiting page="Launchers">Fetching the launchers</Waiting>;
  const mayEdit = mayAct(member, 'draft');
  const rows = list.data;
  return (
    <div className="flex h-full flex-col">
      <div className="flex min-h-[52px] flex-none flex-wrap items-center gap-x-4 gap-y-1 border-b border-ink px-4 py-2">
        <h1 className="text-[22px] leading-7">Launchers</h1>
        <ShelfMenu kind="launchers" shelf={shelf} onShelf={(to) => void navigate({ search: to ? { shelf: to } : {}, replace: true })} />
        <span className="text-soft">{plural(rows.length, 'launcher')}</span>
        <Link to="/scripts" className="text-cobalt hover:underline">
          Scripts
        </Link>
        {mayEdit && (
          <Button kind="primary" className="ms-auto" disabled={start.isPending} onClick={() => start.mutate()}>
            New launcher
          </Button>
        )}
      </div>
      {rows.length === 0 ? (
        <Empty shelf={shelf} mayEdit={mayEdit} onStart={() => start.mutate()} />
      ) : (
        <ul className="min-h-0 flex-1 overflow-auto bg-sheet">
          {rows.map((launcher) => (
            <Row key={launcher.id} launcher={launcher} onMoved={() => void list.refetch()} />
          ))}
        </ul>
      )}
    </div>
  );
}

function Empty({ shelf, mayEdit, onStart }: { shelf: Shelf | undefined; mayEdit: boolean; onStart(): void }) {
  if (shelf) return <p className="p-6 text-soft">{emptyShelf(shelf, 'launcher')}</p>;
  return (
    <div className="grid max-w-[560px] gap-3 p-6">
      <h2 className="text-[17px] leading-6">A way to talk, always at hand</h2>
      <p>
        A launcher is a button on your pages. It opens with the right words for the right visitor, says honestly whether anybody is there,
        and leads where they want to be: a message, a call, a mail, a messaging app.
      </p>
      <p>
        It begins with a message form and the hours of a usual week. Everything can be changed, and nothing is live until you publish it.
      </p>
      {mayEdit && (
        <p>
          <Button kind="primary" onClick={onStart}>
            Begin a launcher
          </Button>
        </p>
      )}
    </div>
  );
}

function Row({ launcher, onMoved }: { launcher: Launcher; onMoved(): void }) {
  const names = useNames();
  const now = useNow(60_000);
  const { draft } = launcher;
  const differs = launcher.live !== null && JSON.stringify(launcher.live) !== JSON.stringify(draft);
  return (
    <li className="flex items-start gap-3 border-b border-hair px-4 py-3 hover:bg-sheet2">
      <span className="w-24 flex-none pt-0.5">
        <StateSign state={launcher.state} />
        {differs && <span className="block text-[12px] leading-4 text-warn">draft differs</span>}
        {launcher.goneAt && <span className="block text-[12px] leading-4 text-warn">gone for good on {day(launcher.goneAt)}</span>}
      </span>
      <span className="mt-1 h-5 w-1.5 flex-none rounded-sm" style={{ background: draft.look.band }} title="Its colour" aria-hidden="true" />
      <div className="min-w-0 flex-1">
        {launcher.goneAt ? (
          <span className="font-semibold">{launcher.name}</span>
        ) : (
          <Link to="/launchers/$launcherId" params={{ launcherId: launcher.id }} className="font-semibold hover:underline">
            {launcher.name}
          </Link>
        )}
        <p>
          Stands on {whereWords(draft.where, names)}, {positionWords(draft)}, for {standsForWords(draft, names)}.
        </p>
        <p className="text-[12px] leading-4 text-soft">
          {draft.channels.map((c) => c.label || CHANNELS[c.kind].name).join(', ') || 'no way to talk yet'};{' '}
          {draft.rungs.length === 0 ? 'greets nobody' : plural(draft.rungs.length, 'greeting')}
        </p>
      </div>
      <span className="flex-none text-[12px] leading-4 text-soft max-md:hidden">
        {ago(launcher.changedAt, now)}
        <span className="block">{launcher.changedBy}</span>
      </span>
      <DefinitionMoves noun="launcher" of={launcher} onMoved={onMoved} />
    </li>
  );
}
