import { describe, expect, it } from 'vitest';
import { forPath, partsOf, readGuide, search } from './guide';

describe('the guide in the desk', () => {
  it('is split at its headings and found by its words, headings first', () => {
    const parts = partsOf('guide', '# Top\n\nintro of kilns\n\n## Kilns\nhot\n\n## Empty\n');
    expect(parts.map((p) => p.heading)).toEqual(['Top', 'Kilns']);
    expect(search(parts, 'kilns').map((p) => p.heading)).toEqual(['Kilns', 'Top']);
    expect(search(parts, 'kilns glaze')).toEqual([]);
    expect(search(parts, ' ')).toEqual([]);
  });

  it('has something for every section', async () => {
    const parts = await readGuide();
    for (const path of [
      '/',
      '/rehearsal',
      '/callouts',
      '/launchers',
      '/inbox',
      '/ledger',
      '/audience',
      '/install',
      '/team',
      '/account',
      '/developers',
    ])
      expect(forPath(parts, path).length, path).toBeGreaterThan(0);
  });
});
