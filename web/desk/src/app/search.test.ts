import { describe, expect, it } from 'vitest';
import { audienceSearch, calloutsSearch, ledgerSearch, rehearsalSearch, runSheetSearch } from './search';

describe('what stands behind the "?" of an address', () => {
  it('opens the page as it says', () => {
    expect(runSheetSearch.parse({ persona: 'closedOne', device: 'phone', at: '2015-11-24T10:00' })).toMatchObject({
      persona: 'closedOne',
      device: 'phone',
      at: '2015-11-24T10:00',
    });
    expect(calloutsSearch.parse({ state: 'noted', sort: 'closed', up: true })).toMatchObject({ state: 'noted', sort: 'closed', up: true });
    expect(audienceSearch.parse({ view: 'visitors', skip: 50 })).toMatchObject({ view: 'visitors', skip: 50 });
  });
  it('leaves out what is not what it should be, and nothing else', () => {
    expect(runSheetSearch.parse({ persona: 'nobody', device: 7, segment: 'abc', panel: 'other' })).toEqual({ segment: 'abc' });
    expect(calloutsSearch.parse({ state: 'gone', sort: { by: 1 }, text: 'mug', up: 'yes' })).toEqual({ text: 'mug' });
    expect(ledgerSearch.parse({ hours: 'many', panel: 'add', id: '' })).toEqual({ panel: 'add' });
    expect(audienceSearch.parse({ skip: -3 })).toEqual({});
  });
  it('takes an imagined visit apart no further than it is broken', () => {
    const page = { path: '/shop', staySeconds: 40, scrollPercent: 300, leaves: 'maybe', acts: [{ kind: 'dance' }] };
    const { visitor, pages } = rehearsalSearch.parse({
      visitor: { visitNumber: 2, city: 5, tags: ['regular'], pastEvents: 'all' },
      pages: [page],
    });
    expect(visitor).toEqual({ visitNumber: 2, tags: ['regular'] });
    expect(pages).toEqual([{ path: '/shop', staySeconds: 40, scrollPercent: 0, leaves: false, acts: [] }]);
    expect(rehearsalSearch.parse({ visitor: 'me', pages: [{ path: 'shop' }] })).toEqual({});
  });
});
