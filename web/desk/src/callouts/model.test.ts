import { describe, expect, it } from 'vitest';
import type { Brief, Source } from './api';
import { changedPhrases, messageWords, pageWords, readBrief, windowWords } from './model';

const BRIEF: Brief = {
  say: {
    message: '**{{ name | default: "Someone" }}** {{ from_place }} bought',
    picture: 'product',
    link: 'product',
    linkAddress: '',
    newTab: false,
    showTime: true,
  },
  from: {
    sources: ['s'],
    conditions: [{ field: 'category', comparison: 'is', value: 'Kits' }],
    join: 'all',
    windowMinutes: 10080,
    leastNumber: 3,
    shuffle: true,
  },
  where: { includes: [], excludes: [] },
  when: { afterSeconds: 6, turns: 1, turnGapSeconds: 12 },
  howOften: { unit: 'visit', everyDays: 1, mostVisits: null, hushHours: 24 },
  look: { shape: 'slip', side: 'left', band: '#9C3517', ground: '#FFFFFF', closeMark: true, staySeconds: 7 },
  priority: 5,
};
const SOURCES = [{ id: 's', name: 'Checkout' }] as Source[];

const text = (facet: string, brief = BRIEF) =>
  readBrief(brief, SOURCES)
    .find((s) => s.facet === facet)
    ?.parts.map((p) => (typeof p === 'string' ? p : p.words))
    .join('');

describe('a brief', () => {
  it('reads as sentences, its start values in words', () => {
    expect(text('say')).toBe("Tell them ‹name› ‹from place› bought, beside the product's picture, linked to the product's page.");
    expect(text('from')).toBe('Take events of Checkout from the last 7 days, whose category is Kits; stay silent below 3 events.');
    expect(text('where')).toBe('Show it on every page.');
    expect(text('when')).toBe('It appears 6 seconds after arrival, in one turn.');
    expect(text('often')).toBe('At most once a visit; a close hushes the site for 24 hours.');
    expect(text('look')).toBe('Drawn as a slip, bottom left, in #9C3517 on #FFFFFF, for 7 seconds, with a close mark.');
  });

  it('says so when no source is chosen', () => {
    expect(text('from', { ...BRIEF, from: { ...BRIEF.from, sources: [], conditions: [] } })).toContain('no source yet');
  });

  it('names pages it is never shown on', () => {
    expect(text('where', { ...BRIEF, where: { includes: ['/shop/**'], excludes: ['/shop/sale'] } })).toBe(
      'Show it on /shop/**, never on /shop/sale.',
    );
  });

  it('knows which phrases differ from what is live', () => {
    expect(changedPhrases(BRIEF, null)).toEqual([]);
    expect(changedPhrases(BRIEF, BRIEF)).toEqual([]);
    expect(changedPhrases({ ...BRIEF, when: { ...BRIEF.when, turns: 3 } }, BRIEF)).toEqual(['when.turns']);
  });
});

describe('the words of a brief', () => {
  it('say windows in the unit that fits', () => {
    expect([null, 30, 120, 1440, 10080].map(windowWords)).toEqual([
      'all time',
      'the last 30 minutes',
      'the last 2 hours',
      'the last 24 hours',
      'the last 7 days',
    ]);
  });

  it('show tokens as words and drop the marks', () => {
    expect(messageWords('**{{ name }}** saw [this](/x)')).toBe('‹name› saw this');
  });

  it('count patterns beyond the third', () => {
    expect(pageWords(['/a', '/b', '/c', '/d'])).toBe('/a, /b and 2 more patterns');
  });
});
