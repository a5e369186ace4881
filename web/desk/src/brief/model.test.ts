import { describe, expect, it } from 'vitest';
import { changedPhrases, readBrief } from './model';
import { aBrief } from './sample';
import type { Brief, Source } from './types';
import { triggerWords } from './when';
import { ruleWords } from './who';
import { messageWords, pageWords, windowWords } from './words';

const BRIEF = aBrief();
const NAMES = {
  sources: [{ id: 's', name: 'Checkout' }] as Source[],
  segments: [{ id: 'regulars', name: 'Regulars' }],
  groups: [{ id: 'shop', name: 'Shop' }],
};

const text = (facet: string, brief = BRIEF) =>
  readBrief(brief, NAMES)
    .find((s) => s.facet === facet)
    ?.parts.map((p) => (typeof p === 'string' ? p : p.words))
    .join('');

describe('a brief', () => {
  it('reads as sentences, its start values in words', () => {
    expect(text('say')).toBe(
      "Say ‹name› ‹from place› bought, with how long ago, beside the product's picture, linked to the product's page, in the site's own language.",
    );
    expect(text('from')).toBe('Use events from Checkout in the last 7 days, whose category is Kits, from anywhere. Show from 3 events.');
    expect(text('where')).toBe('Show it on every page, together with site-wide callouts.');
    expect(text('who')).toBe('For everybody, on every device.');
    expect(text('when')).toBe('It appears 6 seconds after arrival, in one turn, at any time.');
    expect(text('often')).toBe(
      'Show it once a visit, in up to 4 visits a week. After a close, the site stays quiet for 24 hours, and this one may come back after that. When several are due, it goes at priority 5. It is shown to everyone it is for.',
    );
    expect(text('look')).toBe(
      'Drawn as a slip, bottom left, in #3A4048 on #FFFFFF, in the page’s letters and corners of 10 px, for 7 seconds, with a close mark.',
    );
  });

  it('says so when no source is chosen', () => {
    expect(text('from', { ...BRIEF, from: { ...BRIEF.from, sources: [], conditions: [] } })).toContain('no source yet');
  });

  it('names pages it is never shown on', () => {
    expect(text('where', { ...BRIEF, where: { ...BRIEF.where, includes: ['/shop/**'], excludes: ['/shop/sale'] } })).toBe(
      'Show it on /shop/**, never on /shop/sale, together with site-wide callouts.',
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
    expect(messageWords('**{{ name }}** *saw* ++it++ [this](/x) 5 \\* 3')).toBe('‹name› saw it this 5 * 3');
    expect(messageWords('A kit went out {{ from_place | replace: "from", "to" }}')).toBe('A kit went out ‹from place›');
    expect(messageWords('{{ number }} {{ number | plural: one: "person has", other: "people have" }} looked')).toBe(
      '‹number› people have looked',
    );
  });

  it('count patterns beyond the third', () => {
    expect(pageWords(['/a', '/b', '/c', '/d'])).toBe('/a, /b and 2 more patterns');
  });
});

describe('the kinds of a brief', () => {
  const of = (change: Partial<Brief>, from: Partial<Brief['from']> = {}) =>
    text('from', { ...BRIEF, ...change, from: { ...BRIEF.from, conditions: [], ...from } });

  it('each say what they draw on', () => {
    expect(of({ kind: 'notice' })).toBe('It needs no events: the words are all there is.');
    expect(of({ kind: 'headcount' }, { windowMinutes: null })).toBe(
      'Count who is here now on the pages where it shows. Show from 3 visitors.',
    );
    expect(of({ kind: 'tally' }, { measure: 'people' })).toContain('Count people, each once, from Checkout in the last 7 days');
    expect(of({ kind: 'tally' }, { measure: 'pageViews', pages: ['/shop'] })).toBe(
      'Count page views of /shop in the last 7 days. Show from 3 views.',
    );
    expect(of({ kind: 'remainder' })).toContain('at 5 left or fewer');
    expect(of({ kind: 'quote' })).toContain('with 4 stars or more');
    expect(of({ kind: 'standing' })).toBe('Use the newest total of Checkout. Show from 3.');
  });
});

describe('a visitor rule', () => {
  it('reads as a clause', () => {
    expect(ruleWords({ kind: 'test', fact: 'standing', comparison: 'is', value: 'new' }, NAMES)).toBe('new visitors');
    expect(
      ruleWords(
        {
          kind: 'all',
          rules: [
            { kind: 'segment', segment: 'regulars' },
            { kind: 'test', fact: 'bought', comparison: 'isNot', value: 'mugs', key: '', withinDays: 30 },
          ],
        },
        NAMES,
      ),
    ).toBe('Regulars and visitors who have not bought mugs in the last 30 days');
  });
});

describe('a moment of a page view', () => {
  it('reads as a clause', () => {
    const triggers = [
      { kind: 'scroll' as const, number: 50, target: '' },
      { kind: 'pages' as const, number: 2, target: '' },
    ];
    expect(triggerWords({ triggers, join: 'any' })).toBe('at 50 % of the page or from the 2nd page of a visit');
    expect(triggerWords({ triggers: [], join: 'all' })).toBe('on arrival');
  });
});
