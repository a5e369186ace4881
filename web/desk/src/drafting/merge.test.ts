import { describe, expect, it } from 'vitest';
import { merge, withParts } from './merge';

const base = { name: 'Bought', brief: { say: { message: 'Somebody bought' }, priority: 5 } };
const saying = (message: string) => ({ ...base, brief: { ...base.brief, say: { message } } });

describe('a draft that two people wrote at once', () => {
  it('takes what only one of them changed from that one', () => {
    const theirs = { name: 'Bought a mug', brief: { ...base.brief, priority: 2 } };
    const { draft, both } = merge(base, saying('Mine'), theirs);
    expect(draft.name).toBe('Bought a mug');
    expect(draft.brief.priority).toBe(2);
    expect(draft.brief.say.message).toBe('Mine');
    expect(both).toEqual([]);
  });
  it('names what both changed, and keeps mine until somebody decides', () => {
    const { draft, both } = merge(base, saying('Mine'), saying('Theirs'));
    expect(draft.brief.say.message).toBe('Mine');
    expect(both).toEqual(['say']);
    expect(withParts(draft, both, saying('Theirs')).brief.say.message).toBe('Theirs');
  });
  it('has nothing to decide where both did the same', () => {
    expect(merge(base, saying('Same'), saying('Same')).both).toEqual([]);
  });
  it('lets a name be taken over by itself', () => {
    const theirs = { ...base, name: 'Theirs' };
    const { draft, both } = merge(base, { ...base, name: 'Mine' }, theirs);
    expect([draft.name, both]).toEqual(['Mine', ['name']]);
    expect(withParts(draft, both, theirs).name).toBe('Theirs');
  });
});
