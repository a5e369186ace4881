import { describe, expect, it } from 'vitest';
import { begin, go, MOST_KEPT, redo, undo } from './history';

describe('the history of a draft', () => {
  it('goes back and forward again', () => {
    const three = go(go(begin('a'), 'b', false), 'c', false);
    expect(undo(three).now).toBe('b');
    expect(undo(undo(three)).now).toBe('a');
    expect(redo(undo(three)).now).toBe('c');
    expect(redo(undo(three))).toEqual(three);
  });

  it('undoes in one step what was typed in one go', () => {
    const typed = go(go(go(begin(''), 'h', false), 'ha', true), 'had', true);
    expect(undo(typed).now).toBe('');
  });

  it('forgets what was undone once something else is done', () => {
    const other = go(undo(go(begin('a'), 'b', false)), 'c', false);
    expect(redo(other).now).toBe('c');
    expect(undo(other).now).toBe('a');
  });

  it('stays where it is at either end', () => {
    const only = begin('a');
    expect(undo(only)).toBe(only);
    expect(redo(only)).toBe(only);
  });

  it('keeps so many steps and no more', () => {
    let history = begin(0);
    for (let i = 1; i <= MOST_KEPT + 50; i++) history = go(history, i, false);
    expect(history.past.length).toBe(MOST_KEPT);
  });
});
