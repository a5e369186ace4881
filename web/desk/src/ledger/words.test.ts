import { describe, expect, it } from 'vitest';
import { isQuiet, meaningsFor, neededOf } from './words';

describe('what can be pointed at', () => {
  it('offers stars for reviews and not for purchases', () => {
    expect(meaningsFor('review').map(([m]) => m)).toContain('stars');
    expect(meaningsFor('purchase').map(([m]) => m)).not.toContain('stars');
  });

  it('asks only for meanings that it offers', () => {
    for (const kind of ['purchase', 'review', 'stockLevel', 'total', 'post', 'endorsement', 'signUp'] as const)
      expect(meaningsFor(kind).map(([m]) => m)).toEqual(expect.arrayContaining([...neededOf(kind)]));
  });
});

describe('a quiet source', () => {
  it('is one with less than half of a usual day', () => {
    expect(isQuiet(4, 10)).toBe(true);
    expect(isQuiet(5, 10)).toBe(false);
  });

  it('is not told by a handful of events, nor without a past', () => {
    expect(isQuiet(0, 9)).toBe(false);
    expect(isQuiet(0, null)).toBe(false);
  });
});
