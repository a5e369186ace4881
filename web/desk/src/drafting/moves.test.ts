import { describe, expect, it } from 'vitest';
import { backFrom, movedWords, movesOf, moveWords } from './moves';

describe('moves of a definition', () => {
  const live = { state: 'live', revision: 2, goneAt: null } as const;
  it('are what its state allows, and nothing on air without the right', () => {
    expect(movesOf(live, true)).toEqual(['pause', 'duplicate', 'archive']);
    expect(movesOf(live, false)).toEqual(['duplicate']);
    expect(movesOf({ ...live, state: 'paused' }, false)).toEqual(['duplicate', 'archive', 'delete']);
    expect(movesOf({ ...live, state: 'draft', revision: 0 }, true)).toEqual(['duplicate', 'archive', 'delete']);
    expect(movesOf({ ...live, state: 'archived' }, true)).toEqual(['restore', 'duplicate', 'delete']);
    expect(movesOf({ ...live, goneAt: 'soon' }, true)).toEqual(['take-back']);
  });

  it('say that what is live goes off air with it', () => {
    expect(moveWords('archive', true)).toBe('Take off air and archive');
    expect(movedWords('archive', true)).toBe('Taken off air and archived');
    expect(moveWords('archive', false)).toBe('Archive');
  });

  it('are resumed only of what was published', () => {
    expect(movesOf({ ...live, state: 'paused', revision: 0 }, true)).not.toContain('resume');
  });

  it('are taken back: what went off air to be put away goes on air again', () => {
    expect(backFrom('archive', 'live')).toEqual(['restore', 'resume']);
    expect(backFrom('archive', 'draft')).toEqual(['restore']);
    expect(backFrom('delete', 'draft')).toEqual(['take-back']);
    expect(backFrom('duplicate', 'live')).toEqual([]);
  });
});
