import { type UseMutationResult, useMutation, useQueryClient } from '@tanstack/react-query';
import { Link, useNavigate } from '@tanstack/react-router';
import { Ellipsis } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import type { CalloutListItem } from '../brief/types';
import { useNames } from '../brief/useNames';
import { triggerWords } from '../brief/when';
import { KINDS, messageWords, pageWords } from '../brief/words';
import type { Schema } from '../data/api';
import { say } from '../data/toasts';
import { backFrom, type Move, makeMoves, movedWords, movesOf, moveWords } from '../drafting/moves';
import { ShapeSign } from '../kit/ShapeSign';
import { StateSign } from '../kit/StateSign';
import { ago, clock, day } from '../kit/time';
import { useNow } from '../kit/useNow';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { duplicateCallout } from './api';
import { ControlLink } from './ReasonLine';

/** One callout in the list: its state, what it says, how it fares, and what of it wants looking at. */
export function CalloutRow({ row, isChosen, onChoose }: { row: CalloutListItem; isChosen: boolean; onChoose?: (() => void) | undefined }) {
  const now = useNow(10_000);
  const { shown, clicked, closed, lastShownAt } = row.figures;
  return (
    <tr className={`border-b border-hair align-top ${isChosen ? 'bg-selectwash' : 'hover:bg-sheet2'}`}>
      <td className="py-3 ps-4">
        {onChoose && <input type="checkbox" aria-label={`Choose ${row.name}`} checked={isChosen} onChange={onChoose} />}
      </td>
      <td className="px-2 py-2.5 ps-1">
        <StateSign state={row.stands} />
        {row.goneAt && <div className="text-[12px] leading-4 text-warn">gone for good on {day(row.goneAt)}</div>}
        {row.hasChanges && <div className="text-[12px] leading-4 text-warn">draft differs</div>}
      </td>
      <td className="max-w-[520px] min-w-56 px-2 py-2.5">
        <span className="flex items-center gap-1.5">
          <ShapeSign shape={row.brief.look.shape} />
          {row.goneAt ? (
            <span className="font-semibold">{row.name}</span>
          ) : (
            <Link to="/callouts/$calloutId" params={{ calloutId: row.id }} className="font-semibold hover:underline">
              {row.name}
            </Link>
          )}
        </span>
        <div className="overflow-hidden text-ellipsis">{messageWords(row.brief.say.message)}</div>
        <div className="overflow-hidden text-[12px] leading-4 text-ellipsis text-soft">
          {KINDS[row.brief.kind].name.toLowerCase()} in {row.brief.look.shape === 'inset' ? 'an' : 'a'} {row.brief.look.shape}, on{' '}
          <Pages where={row.brief.where} />, {triggerWords(row.brief.when)}
        </div>
        {row.notes.map((note) => (
          <Note key={note.note} note={note} calloutId={row.id} />
        ))}
      </td>
      <Figure value={shown} />
      <Figure value={clicked} of={shown} />
      <Figure value={closed} of={shown} />
      <td className="px-2 py-2.5 whitespace-nowrap max-md:hidden">
        {lastShownAt ? (
          ago(lastShownAt, now)
        ) : (
          <span className="text-soft">{row.stands === 'live' ? 'waiting for its first' : 'never'}</span>
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

const NOTES: Record<Schema<'CalloutNote'>, string> = {
  starterWording: 'Still the starter wording.',
  cannotBeShown: 'Live, but cannot be shown.',
  shownAsBefore: 'What was published last cannot be shown; visitors see what was good before.',
  notHeard: 'The snippet has not been heard since it went live.',
  waitingForFirst: 'Waiting for its first showing.',
  notShownLately: 'Not shown in the last 24 hours.',
};

function Note({ note, calloutId }: { note: Schema<'CalloutNoteView'>; calloutId: string }) {
  return (
    <div className="mt-1 flex flex-wrap items-baseline gap-x-2 text-[12px] leading-4">
      <b className="text-warn">{NOTES[note.note]}</b>
      {note.why && <span className="text-soft">{note.why}</span>}
      {note.note === 'notHeard' ? (
        <Link to="/install" className="text-cobalt hover:underline">
          See the install page
        </Link>
      ) : (
        note.control && <ControlLink place={note.control} calloutId={calloutId} />
      )}
    </div>
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
  const move: UseMutationResult<unknown, Error, { moves: readonly Move[]; was: CalloutListItem; undoes?: true }> = useMutation({
    mutationFn: ({ moves }) => makeMoves('callout', site.id, row.id, moves),
    // By what it was when it was chosen: the list may know of the change before the answer is here.
    onSuccess: (_, { moves, was, undoes }) => {
      const [first] = moves;
      if (!first) return;
      const back = backFrom(first, was.state);
      say(undoes ? `Undone: “${was.name}” is as it was.` : `${movedWords(first, was.state === 'live')} “${was.name}”.`, {
        act: undoes ? undefined : { words: 'Undo', run: () => move.mutate({ moves: back, was, undoes: true }) },
      });
    },
    onSettled: () => void queries.invalidateQueries({ queryKey: ['callouts'] }),
  });
  const copy = useMutation({
    mutationFn: () => duplicateCallout(site.id, row.id),
    onSuccess: (made) => void navigate({ to: '/callouts/$calloutId', params: { calloutId: made.id } }),
  });
  const acts: [string, () => void][] = [
    ...movesOf(row, mayAct(member, 'publish')).map((m): [string, () => void] => [
      moveWords(m, row.state === 'live'),
      () => (m === 'duplicate' ? copy.mutate() : move.mutate({ moves: [m], was: row })),
    ]),
    ['Copy its id', () => void copyId(row.id)],
  ];
  if (!mayAct(member, 'draft')) return null;
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

/** The id by which the page's own script calls a callout, and the API knows it. */
async function copyId(id: string) {
  try {
    await navigator.clipboard.writeText(id);
    say(`Copied ${id}.`);
  } catch {
    say(`The browser does not allow copying. The id is ${id}.`, { isBad: true });
  }
}
