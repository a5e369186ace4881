import { describe, expect, it } from 'vitest';
import { backFrom, type Movable, movesOf, moveWords } from './moves';

const of = (state: Movable['state'], more: Partial<Movable> = {}): Movable => ({ state, revision: 1, goneAt: null, ...more });

describe('what can be done with a callout as a whole', () => {
  it('archives what is live in one act that says so, and puts it on air again by one undo', () => {
    expect(movesOf(of('live'), true)).toEqual(['pause', 'archive']);
    expect(moveWords('archive', true)).toBe('Take off air and archive');
    expect(backFrom('archive', of('live'))).toEqual(['restore', 'resume']);
  });
  it('offers those who only draft nothing that changes what is on air', () => {
    expect(movesOf(of('live'), false)).toEqual([]);
    expect(movesOf(of('paused'), false)).toEqual(['archive', 'delete']);
  });
  it('deletes what is not live, and takes it back', () => {
    expect(movesOf(of('draft', { revision: 0 }), true)).toEqual(['archive', 'delete']);
    expect(backFrom('delete', of('archived'))).toEqual(['take-back']);
    expect(movesOf(of('archived', { goneAt: '2015-12-24T00:00:00Z' }), true)).toEqual(['take-back']);
  });
  it('resumes only what was published', () => {
    expect(movesOf(of('paused', { revision: 0 }), true)).not.toContain('resume');
  });
});
