import type { CalloutListItem } from '../brief/types';
import { KINDS, messageWords } from '../brief/words';
import type { Shelf } from '../data/shelf';

/** What a list of callouts can be ordered by. */
export type SortKey = 'name' | 'state' | 'shown' | 'clicked' | 'closed' | 'lastShown' | 'changed';

/** The list as it stands in the address. */
export interface Listing {
  /** Those archived or deleted, in place of the current ones. */
  shelf?: Shelf | undefined;
  text?: string | undefined;
  state?: CalloutListItem['stands'] | 'noted' | undefined;
  kind?: CalloutListItem['brief']['kind'] | undefined;
  sort?: SortKey | undefined;
  /** Whether the smallest comes first. */
  up?: boolean | undefined;
}

const RANKS: Record<SortKey, (c: CalloutListItem) => string | number> = {
  name: (c) => c.name.toLowerCase(),
  state: (c) => ['live', 'scheduled', 'ended', 'paused', 'draft', 'archived'].indexOf(c.stands),
  shown: (c) => c.figures.shown,
  clicked: (c) => c.figures.clicked,
  closed: (c) => c.figures.closed,
  lastShown: (c) => c.figures.lastShownAt ?? '',
  changed: (c) => c.changedAt,
};

/** Callouts that pass the filter, in order; those of a group of the team's together, by the group's name, the ungrouped last. */
export function listed(all: readonly CalloutListItem[], listing: Listing): { group: string; rows: CalloutListItem[] }[] {
  const wanted = (listing.text ?? '').toLowerCase();
  const fitting = all.filter(
    (c) =>
      (!listing.state || (listing.state === 'noted' ? c.notes.length > 0 : c.stands === listing.state)) &&
      (!listing.kind || c.brief.kind === listing.kind) &&
      (!wanted ||
        [c.name, c.group, KINDS[c.brief.kind].name, messageWords(c.brief.say.message), ...c.brief.where.includes].some((t) =>
          t.toLowerCase().includes(wanted),
        )),
  );
  // An address may name an order that there is not.
  const rank = RANKS[listing.sort ?? 'shown'] ?? RANKS.shown;
  const way = listing.up ? 1 : -1;
  const sorted = [...fitting].sort((a, b) => (rank(a) < rank(b) ? -way : rank(a) > rank(b) ? way : a.name.localeCompare(b.name)));
  const groups = [...new Set(sorted.map((c) => c.group))].sort((a, b) => (a === '' ? 1 : b === '' ? -1 : a.localeCompare(b)));
  return groups.map((group) => ({ group, rows: sorted.filter((c) => c.group === group) }));
}
