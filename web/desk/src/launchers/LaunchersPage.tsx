import { useMutation, useQuery } from '@tanstack/react-query';
import { Link, useNavigate, useSearch } from '@tanstack/react-router';
import { Ellipsis } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { launchersQuery } from '../callouts/greetings';
import { useNames } from '../callouts/useNames';
import { plural } from '../lib/plural';
import { ago, day } from '../lib/time';
import { say } from '../lib/toasts';
import { useNow } from '../lib/useNow';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { useTitle } from '../session/useTitle';
import { Button } from '../ui/Button';
import { Failed, Waiting } from '../ui/Notice';
import { PhraseMenu } from '../ui/PhraseMenu';
import { StateSign } from '../ui/StateSign';
import { type Launcher, type LauncherMove, moveLauncher, startLauncher } from './api';
import { CHANNELS, positionWords, standsForWords, whereWords } from './words';

const SHELVES = [
  ['current', 'current launchers'],
  ['archived', 'archived ones'],
  ['deleted', 'deleted ones'],
] as const;

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
        <p className="font-display text-[18px] leading-8">
          Showing{' '}
          <PhraseMenu
            facet="who"
            label="Which launchers"
            value={shelf ?? 'current'}
            choices={SHELVES}
            onChoose={(v) => void navigate({ search: v === 'current' ? {} : { shelf: v }, replace: true })}
          />
        </p>
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
            <Row key={launcher.id} launcher={launcher} />
          ))}
        </ul>
      )}
    </div>
  );
}

function Empty({ shelf, mayEdit, onStart }: { shelf: string | undefined; mayEdit: boolean; onStart(): void }) {
  if (shelf)
    return (
      <p className="p-6 text-soft">{shelf === 'archived' ? 'No launcher is archived.' : 'No launcher was deleted in the last 30 days.'}</p>
    );
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

function Row({ launcher }: { launcher: Launcher }) {
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
      <Moves launcher={launcher} />
    </li>
  );
}

const WORDS: Record<LauncherMove, [act: string, done: string]> = {
  pause: ['Pause', 'Paused'],
  resume: ['Resume', 'Resumed'],
  archive: ['Archive', 'Archived'],
  restore: ['Restore', 'Restored'],
  delete: ['Delete', 'Deleted'],
  'take-back': ['Take back', 'Took back'],
  duplicate: ['Duplicate', 'Duplicated'],
};

/** What takes a move back. */
const BACK: Partial<Record<LauncherMove, LauncherMove>> = {
  pause: 'resume',
  resume: 'pause',
  restore: 'archive',
  delete: 'take-back',
  'take-back': 'delete',
};

export function movesOf({ state, revision, goneAt }: Pick<Launcher, 'state' | 'revision' | 'goneAt'>, mayPublish: boolean): LauncherMove[] {
  if (goneAt) return ['take-back'];
  switch (state) {
    case 'live':
      return mayPublish ? ['pause', 'duplicate', 'archive'] : ['duplicate'];
    case 'paused':
      return [...(mayPublish && revision > 0 ? (['resume'] as const) : []), 'duplicate', 'archive', 'delete'];
    case 'draft':
      return ['duplicate', 'archive', 'delete'];
    case 'archived':
      return ['restore', 'duplicate', 'delete'];
  }
}

function Moves({ launcher }: { launcher: Launcher }) {
  const { site, member } = useDesk();
  const list = useQuery(launchersQuery(site.id));
  const move = useMutation({
    mutationFn: (moves: readonly LauncherMove[]) =>
      moves.reduce<Promise<unknown>>((before, m) => before.then(() => moveLauncher(site.id, launcher.id, m)), Promise.resolve()),
    onSettled: () => void list.refetch(),
  });
  if (!mayAct(member, 'draft')) return null;
  function go(chosen: LauncherMove) {
    // What went off air to be put away goes on air again where that is taken back.
    const back: LauncherMove[] =
      chosen === 'archive' ? (launcher.state === 'live' ? ['restore', 'resume'] : ['restore']) : BACK[chosen] ? [BACK[chosen]] : [];
    move.mutate([chosen], {
      onSuccess: () =>
        say(`${WORDS[chosen][1]} “${launcher.name}”`, back.length > 0 ? { act: { words: 'Undo', run: () => move.mutate(back) } } : {}),
    });
  }
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger
        aria-label={`More for ${launcher.name}`}
        disabled={move.isPending}
        className="grid h-8 w-8 flex-none place-items-center rounded hover:bg-hair max-sm:h-11 max-sm:w-11"
      >
        <Ellipsis className="h-4 w-4" />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" className="z-50 min-w-40 rounded border border-ink bg-sheet p-1 shadow-lg">
          {movesOf(launcher, mayAct(member, 'publish')).map((m) => (
            <DropdownMenu.Item
              key={m}
              onSelect={() => go(m)}
              className="flex min-h-8 cursor-pointer items-center rounded px-2 outline-none data-[highlighted]:bg-selectwash"
            >
              {m === 'archive' && launcher.state === 'live' ? 'Take off air and archive' : WORDS[m][0]}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
