import type { Shelf } from '../data/shelf';
import { PhraseMenu } from '../kit/PhraseMenu';

/** "Showing current scripts": which of a kind a list has. */
export function ShelfMenu({ kind, shelf, onShelf }: { kind: string; shelf: Shelf | undefined; onShelf(shelf: Shelf | undefined): void }) {
  return (
    <p className="font-display text-[18px] leading-8">
      Showing{' '}
      <PhraseMenu
        facet="who"
        label={`Which ${kind}`}
        value={shelf ?? 'current'}
        choices={[
          ['current', `current ${kind}`],
          ['archived', 'archived ones'],
          ['deleted', 'deleted ones'],
        ]}
        onChoose={(v) => onShelf(v === 'current' ? undefined : v)}
      />
    </p>
  );
}

/** What an empty shelf says. */
export const emptyShelf = (shelf: Shelf, one: string) =>
  shelf === 'archived' ? `No ${one} is archived.` : `No ${one} was deleted in the last 30 days.`;
