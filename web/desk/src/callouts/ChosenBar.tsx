import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Popover } from 'radix-ui';
import { type FormEvent, useState } from 'react';
import type { CalloutListItem } from '../brief/types';
import { Refusal } from '../data/api';
import { backFrom, type Move, makeMoves, movesOf, moveWords } from '../drafting/moves';
import { Button } from '../kit/Button';
import { plural } from '../kit/plural';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { duplicateCallout, groupCallout } from './api';

const MOVES: readonly Move[] = ['pause', 'resume', 'archive', 'restore', 'delete', 'take-back'];

const isLive = (c: CalloutListItem) => c.state === 'live';

/** What can be done with the chosen callouts at once. Each is done by itself: what is refused is named, the rest stays done. */
export function ChosenBar({ chosen, groups, onClear }: { chosen: readonly CalloutListItem[]; groups: readonly string[]; onClear(): void }) {
  const { site, member } = useDesk();
  const queries = useQueryClient();
  const [done, setDone] = useState<{ words: string; undo: (() => void) | undefined; refused: string[] }>();
  const each = useMutation({
    mutationFn: async ({ fitting, act }: { fitting: readonly CalloutListItem[]; act: (c: CalloutListItem) => Promise<unknown> }) => {
      const refused: string[] = [];
      for (const callout of fitting)
        try {
          await act(callout);
        } catch (error) {
          refused.push(`${callout.name}: ${error instanceof Refusal ? error.message : 'not done'}`);
        }
      return { count: fitting.length - refused.length, refused };
    },
    onSettled: () => {
      for (const key of ['callouts', 'run-sheet', 'strip']) void queries.invalidateQueries({ queryKey: [key] });
    },
  });
  const make = (
    fitting: readonly CalloutListItem[],
    movesFor: (c: CalloutListItem) => readonly Move[],
    words: string,
    undo: (() => void) | undefined,
  ) =>
    each.mutate(
      { fitting, act: (c) => makeMoves('callout', site.id, c.id, movesFor(c)) },
      {
        onSuccess: ({ count, refused }) =>
          setDone({ words: `${words}: ${plural(count, 'callout')}.`, undo: count === 0 ? undefined : undo, refused }),
      },
    );
  const publisher = mayAct(member, 'publish');
  const fits = (m: Move) => chosen.filter((c) => movesOf(c, publisher).includes(m));
  const move = (m: Move) => {
    const fitting = fits(m);
    const words = moveWords(m, fitting.some(isLive));
    make(
      fitting,
      () => [m],
      words,
      () => make(fitting, (c) => backFrom(m, c.state), `${words}, undone`, undefined),
    );
  };
  return (
    <div
      role="region"
      aria-label="Chosen callouts"
      className="flex flex-none flex-wrap items-center gap-2 border-t border-ink bg-selectwash px-4 py-2"
    >
      <b>{chosen.length} chosen</b>
      <span role="status" className="text-soft">
        {each.isPending ? 'Working' : done?.words}
        {done?.refused.map((r) => (
          <span key={r} className="ms-2 text-bad">
            {r}
          </span>
        ))}
        {done?.undo && !each.isPending && (
          <Button kind="link" className="ms-2" onClick={done.undo}>
            Undo
          </Button>
        )}
      </span>
      <span className="ms-auto flex flex-wrap gap-2">
        {MOVES.map((m) => {
          const fitting = fits(m);
          if (fitting.length === 0) return null;
          return (
            <Button key={m} disabled={each.isPending} onClick={() => move(m)}>
              {moveWords(m, fitting.some(isLive))} {fitting.length < chosen.length && fitting.length}
            </Button>
          );
        })}
        <Button
          disabled={each.isPending}
          onClick={() =>
            each.mutate(
              {
                fitting: chosen,
                act: (c) => duplicateCallout(site.id, c.id),
              },
              { onSuccess: ({ count, refused }) => setDone({ words: `Duplicated ${count}, as drafts.`, undo: undefined, refused }) },
            )
          }
        >
          Duplicate
        </Button>
        <GroupChoice
          groups={groups}
          disabled={each.isPending}
          onChoose={(group) =>
            each.mutate(
              { fitting: chosen, act: (c) => groupCallout(site.id, c.id, group) },
              {
                onSuccess: ({ count, refused }) =>
                  setDone({
                    words: group ? `${count} put into ${group}.` : `${count} taken out of their group.`,
                    undo: undefined,
                    refused,
                  }),
              },
            )
          }
        />
        <Button kind="link" onClick={onClear}>
          Clear selection
        </Button>
      </span>
    </div>
  );
}

function GroupChoice({ groups, disabled, onChoose }: { groups: readonly string[]; disabled: boolean; onChoose(group: string): void }) {
  const [open, setOpen] = useState(false);
  const choose = (group: string) => {
    setOpen(false);
    onChoose(group);
  };
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <Button disabled={disabled}>Group</Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={6}
          aria-label="Put them into a group"
          className="z-50 grid w-[260px] gap-2 rounded border border-ink bg-sheet p-3 shadow-lg"
        >
          {groups.map((g) => (
            <button key={g} type="button" className="min-h-8 rounded px-2 text-start hover:bg-selectwash" onClick={() => choose(g)}>
              {g}
            </button>
          ))}
          <form
            className="flex gap-1"
            onSubmit={(event: FormEvent<HTMLFormElement>) => {
              event.preventDefault();
              const name = String(new FormData(event.currentTarget).get('group') ?? '').trim();
              if (name) choose(name);
            }}
          >
            <input
              name="group"
              aria-label="A new group"
              placeholder="A new group"
              maxLength={40}
              className="min-w-0 flex-1 placeholder:text-soft"
            />
            <Button type="submit">Put in</Button>
          </form>
          <Button kind="link" className="justify-self-start" onClick={() => choose('')}>
            Take out of any group
          </Button>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
