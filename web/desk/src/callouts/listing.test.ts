import { describe, expect, it } from 'vitest';
import { aBrief } from '../brief/sample';
import type { CalloutListItem } from '../brief/types';
import { listed } from './listing';

const item = (name: string, change: Partial<CalloutListItem> = {}): CalloutListItem => ({
  id: name,
  name,
  group: '',
  state: 'live',
  stands: 'live',
  revision: 1,
  hasChanges: false,
  brief: aBrief(),
  figures: { shown: 0, clicked: 0, closed: 0, lastShownAt: null },
  notes: [],
  changedAt: '2015-11-24T10:00:00Z',
  changedBy: 'Marta',
  goneAt: null,
  ...change,
});

const names = (groups: ReturnType<typeof listed>) => groups.map((g) => [g.group, g.rows.map((r) => r.name)]);

describe('the list of callouts', () => {
  const shown = (n: number) => ({ shown: n, clicked: 0, closed: 0, lastShownAt: null });

  it('puts the most shown first, and orders either way', () => {
    const all = [item('a', { figures: shown(1) }), item('b', { figures: shown(9) }), item('c', { figures: shown(5) })];
    expect(names(listed(all, {}))).toEqual([['', ['b', 'c', 'a']]]);
    expect(names(listed(all, { sort: 'name', up: true }))).toEqual([['', ['a', 'b', 'c']]]);
  });

  it('keeps what belongs together together, and what belongs nowhere last', () => {
    const all = [item('a'), item('b', { group: 'Winter' }), item('c', { group: 'Autumn' })];
    expect(names(listed(all, {}))).toEqual([
      ['Autumn', ['c']],
      ['Winter', ['b']],
      ['', ['a']],
    ]);
  });

  it('finds by words, state, kind, and what wants looking at', () => {
    const all = [
      item('Bought a mug', { state: 'paused', stands: 'paused' }),
      item('Kiln', { notes: [{ note: 'notShownLately', why: 'It needs 3 events.', control: 'from' }] }),
    ];
    expect(names(listed(all, { text: 'MUG' }))).toEqual([['', ['Bought a mug']]]);
    expect(names(listed(all, { state: 'paused' }))).toEqual([['', ['Bought a mug']]]);
    expect(names(listed(all, { state: 'noted' }))).toEqual([['', ['Kiln']]]);
    expect(names(listed(all, { kind: 'quote' }))).toEqual([]);
  });
});
