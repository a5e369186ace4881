import { describe, expect, it } from 'vitest';
import { sameVisitor, trimmed } from '../visits/model';
import { factPhrases } from './facts';

describe('an imagined visitor', () => {
  it('keeps only what a newcomer has not', () => {
    expect(
      trimmed({
        visitNumber: 1,
        device: 'desktop',
        agreed: true,
        hoursSinceLastVisit: 24,
        languages: [],
        country: '',
        pagesEver: 0,
        attributes: {},
      }),
    ).toEqual({});
    expect(trimmed({ visitNumber: 3, device: 'phone', agreed: false, tags: ['member'] })).toEqual({
      visitNumber: 3,
      device: 'phone',
      agreed: false,
      tags: ['member'],
    });
  });

  it('is the same whatever order its facts come in', () => {
    expect(sameVisitor({ device: 'phone', country: 'Ireland' }, { country: 'Ireland', device: 'phone', visitNumber: 1 })).toBe(true);
    expect(sameVisitor({ device: 'phone' }, {})).toBe(false);
  });

  it('reads as a sentence, with what is left unsaid said in words', () => {
    const words = (visitor: Parameters<typeof factPhrases>[0]) => factPhrases(visitor, () => 'Last mugs').map((p) => p.words);
    expect(words({})).toEqual([
      'new visitor',
      'desktop',
      "the site's language",
      'somewhere unknown',
      'nobody in particular',
      'has done nothing yet',
      'is anonymous',
      'whenever it is here',
    ]);
    expect(
      words({
        visitNumber: 3,
        hoursSinceLastVisit: 48,
        closed: ['x'],
        languages: ['de'],
        city: 'Cork',
        country: 'Ireland',
        referrer: 'letters.example',
        pastEvents: [{ kind: 'purchase', product: 'mug', category: '', daysAgo: 3, source: null }],
        isKnown: true,
        localHour: 7,
      }),
    ).toEqual([
      'visitor in visit 3, last here 2 days ago, who closed Last mugs',
      'desktop',
      'German',
      'Cork, Ireland',
      'letters.example',
      'bought mug 3 days ago',
      'is signed in',
      '7:00',
    ]);
  });
});
