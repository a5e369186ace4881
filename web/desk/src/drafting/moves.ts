import { answered, client } from '../data/api';

/** Kinds of definitions that are moved alike; their paths are their nouns. */
export type Noun = 'callout' | 'launcher' | 'script' | 'followup';

/** What is done with a definition as a whole. */
export type Move = 'pause' | 'resume' | 'archive' | 'restore' | 'delete' | 'take-back' | 'duplicate';

/** A definition as far as it decides what can be done with it. */
export interface Movable {
  id: string;
  name: string;
  state: 'draft' | 'live' | 'paused' | 'archived';
  revision: number;
  goneAt: string | null;
}

const WORDS: Record<Move, [act: string, done: string]> = {
  pause: ['Pause', 'Paused'],
  resume: ['Resume', 'Resumed'],
  archive: ['Archive', 'Archived'],
  restore: ['Restore', 'Restored'],
  delete: ['Delete', 'Deleted'],
  'take-back': ['Take back', 'Took back'],
  duplicate: ['Duplicate', 'Duplicated'],
};

const TAKEN_OFF = ['Take off air and archive', 'Taken off air and archived'] as const;

const wordsOf = (move: Move, isLive: boolean) => (move === 'archive' && isLive ? TAKEN_OFF : WORDS[move]);

/** The words on a button for a move. */
export const moveWords = (move: Move, isLive: boolean): string => wordsOf(move, isLive)[0];

/** What is said of a move that was made. */
export const movedWords = (move: Move, isLive: boolean): string => wordsOf(move, isLive)[1];

const BACK: Partial<Record<Move, Move>> = {
  pause: 'resume',
  resume: 'pause',
  restore: 'archive',
  delete: 'take-back',
  'take-back': 'delete',
};

/** What can be done with it, in the order in which it is offered. */
export function movesOf({ state, revision, goneAt }: Pick<Movable, 'state' | 'revision' | 'goneAt'>, mayPublish: boolean): Move[] {
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

/** What takes a move back, one after the other: what went off air to be put away goes on air again. */
export function backFrom(move: Move, state: Movable['state']): Move[] {
  if (move === 'archive') return state === 'live' ? ['restore', 'resume'] : ['restore'];
  const back = BACK[move];
  return back ? [back] : [];
}

/** Moves one; every kind has the same paths under its noun, so that one kind's stand for all. */
export function moveDefinition(noun: Noun, siteId: string, id: string, move: Move): Promise<unknown> {
  const params = { params: { path: { siteId, id } } };
  return move === 'delete'
    ? answered(client.DELETE(`/api/sites/{siteId}/${noun}s/{id}` as '/api/sites/{siteId}/launchers/{id}', params))
    : answered(client.POST(`/api/sites/{siteId}/${noun}s/{id}/${move}` as '/api/sites/{siteId}/launchers/{id}/pause', params));
}

/** Makes moves one after the other. */
export async function makeMoves(noun: Noun, siteId: string, id: string, moves: readonly Move[]): Promise<void> {
  for (const move of moves) await moveDefinition(noun, siteId, id, move);
}
