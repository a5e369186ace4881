import { describe, expect, it } from 'vitest';
import { withScheme } from '../kit/scheme';
import { addressOf, baseOf, readAddress, sectionOf } from './address';

describe('addresses of the desk', () => {
  it('name the site and the page within it', () => {
    expect(readAddress('/s/8d6a/callouts/1')).toEqual({ siteKey: '8d6a', page: '/callouts/1' });
    expect(readAddress('/s/8d6a')).toEqual({ siteKey: '8d6a', page: '/' });
  });

  it('of older links name no site', () => {
    expect(readAddress('/callouts/1')).toEqual({ siteKey: undefined, page: '/callouts/1' });
    expect(readAddress('/')).toEqual({ siteKey: undefined, page: '/' });
    expect(readAddress('/s/')).toEqual({ siteKey: undefined, page: '/s/' });
  });

  it('that are badly written stop nothing', () => {
    expect(readAddress('/s/%E0%A4%A/ledger')).toEqual({ siteKey: '%E0%A4%A', page: '/ledger' });
  });

  it('lead to the same section of another site, without what is one site’s alone', () => {
    expect([sectionOf('/callouts/1'), sectionOf('/ledger'), sectionOf('/')]).toEqual(['/callouts', '/ledger', '/']);
  });

  it('are made as they are read', () => {
    expect(addressOf('8d6a', '/ledger')).toBe('/s/8d6a/ledger');
    expect(addressOf('8d6a')).toBe('/s/8d6a/');
    expect(baseOf('8d6a')).toBe('/s/8d6a');
  });
});

describe('a typed host', () => {
  it('is an address, encrypted but on one’s own machine', () => {
    expect(['shop.example', 'shop.example/de', 'localhost:5081', 'http://a.example', ''].map(withScheme)).toEqual([
      'https://shop.example',
      'https://shop.example/de',
      'http://localhost:5081',
      'http://a.example',
      '',
    ]);
  });
});
