import type { CalloutListItem } from '../brief/types';
import type { Move } from './api';

/** A callout as far as it decides what can be done with it as a whole. */
export type Movable = Pick<CalloutListItem, 'state' | 'revision' | 'goneAt'>;

/** Moves that put something on air, or take it off. */
const ON_AIR: readonly Move[] = ['pause', 'resume'];

/** What can be done with a callout, in the order in which it is offered. */
export function movesOf(callout: Movable, mayPublish: boolean): Move[] {
  if (callout.goneAt) return ['take-back'];
  const byState: Record<Movable['state'], Move[]> = {
    live: ['pause', 'archive'],
    paused: callout.revision > 0 ? ['resume', 'archive', 'delete'] : ['archive', 'delete'],
    draft: ['archive', 'delete'],
    archived: ['restore', 'delete'],
  };
  return byState[callout.state].filter((m) => mayPublish || (!ON_AIR.includes(m) && callout.state !== 'live'));
}

/** What takes a move back, one after the other: what went off air to be archived goes on air again. */
export function backFrom(move: Move, was: Movable): Move[] {
  switch (move) {
    case 'pause':
      return ['resume'];
    case 'resume':
      return ['pause'];
    case 'archive':
      return was.state === 'live' ? ['restore', 'resume'] : ['restore'];
    case 'restore':
      return ['archive'];
    case 'delete':
      return ['take-back'];
    case 'take-back':
      return ['delete'];
  }
}

/** The words on a button for a move. */
export function moveWords(move: Move, isLive: boolean): string {
  if (move === 'archive' && isLive) return 'Take off air and archive';
  return { pause: 'Pause', resume: 'Resume', archive: 'Archive', restore: 'Restore', delete: 'Delete', 'take-back': 'Take back' }[move];
}

/** What is said of a move that was made. */
export function movedWords(move: Move, isLive: boolean): string {
  if (move === 'archive' && isLive) return 'Taken off air and archived';
  return { pause: 'Paused', resume: 'Resumed', archive: 'Archived', restore: 'Restored', delete: 'Deleted', 'take-back': 'Took back' }[
    move
  ];
}
