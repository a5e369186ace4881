import { describe, expect, it } from 'vitest';
import { withNewest } from './api';

type Pages = Parameters<typeof withNewest>[0];
const event = (id: number, more = {}) => ({ id: `e${id}`, at: new Date(id * 1000).toISOString(), state: 'usable', ...more });
const page = (ids: number[], next: string | null, more = {}) => ({ events: ids.map((i) => event(i)), next, total: 9, ...more });
const ids = (pages: Pages) => pages.map((p) => p.events.map((e) => e.id));

describe('the ledger with newer events', () => {
  const known = [page([6, 5, 4], 'after4'), page([3, 2, 1], null)] as unknown as Pages;

  it('puts what is new in front and keeps the pages one has read', () => {
    const pages = withNewest(known, page([8, 7, 6], 'after6', { total: 11 }) as never);
    expect(ids(pages)).toEqual([
      ['e8', 'e7', 'e6', 'e5', 'e4'],
      ['e3', 'e2', 'e1'],
    ]);
    expect(pages[0]?.total).toBe(11);
    expect(pages[0]?.next).toBe('after4');
  });

  it('takes over what became of a known one, and drops one that is gone', () => {
    const newest = { ...page([6, 4], 'after4'), events: [event(6, { state: 'hidden' }), event(4)] };
    const pages = withNewest(known, newest as never);
    expect(ids(pages)[0]).toEqual(['e6', 'e4']);
    expect(pages[0]?.events[0]?.state).toBe('hidden');
  });

  it('begins anew where more came than a page holds', () => {
    expect(ids(withNewest(known, page([30, 29, 28], 'after28') as never))).toEqual([['e30', 'e29', 'e28']]);
  });

  it('forgets all that is gone where the newest page is the whole', () => {
    expect(ids(withNewest([page([6, 5], null)] as unknown as Pages, page([6], null) as never))).toEqual([['e6']]);
  });
});
