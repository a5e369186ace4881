import { useMutation } from '@tanstack/react-query';
import { Ellipsis } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { say } from '../data/toasts';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { backFrom, type Movable, type Move, makeMoves, movedWords, movesOf, moveWords, type Noun } from './moves';

/** The menu of a row in a list of definitions: what can be done with one as a whole, each with its undo. */
export function DefinitionMoves({ noun, of, onMoved }: { noun: Noun; of: Movable; onMoved(): void }) {
  const { site, member } = useDesk();
  const move = useMutation({
    mutationFn: (moves: readonly Move[]) => makeMoves(noun, site.id, of.id, moves),
    onSettled: onMoved,
  });
  if (!mayAct(member, 'draft')) return null;
  const isLive = of.state === 'live';
  function go(chosen: Move) {
    const [back, done] = [backFrom(chosen, of.state), movedWords(chosen, isLive)];
    move.mutate([chosen], {
      onSuccess: () => say(`${done} “${of.name}”`, back.length > 0 ? { act: { words: 'Undo', run: () => move.mutate(back) } } : {}),
    });
  }
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger
        aria-label={`More for ${of.name}`}
        disabled={move.isPending}
        className="grid h-8 w-8 flex-none place-items-center rounded hover:bg-hair max-sm:h-11 max-sm:w-11"
      >
        <Ellipsis className="h-4 w-4" />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" className="z-50 min-w-40 rounded border border-ink bg-sheet p-1 shadow-lg">
          {movesOf(of, mayAct(member, 'publish')).map((m) => (
            <DropdownMenu.Item
              key={m}
              onSelect={() => go(m)}
              className="flex min-h-8 cursor-pointer items-center rounded px-2 outline-none data-[highlighted]:bg-selectwash"
            >
              {moveWords(m, isLive)}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
