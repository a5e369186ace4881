import { describe, expect, it } from 'vitest';
import { placesOf } from './warned';

describe('a word that something is to be known about', () => {
  it('is found as a word of its own, whatever its case', () => {
    expect(placesOf('just', 'Just in: they just bought an adjustable shelf')).toEqual([0, 14]);
  });
  it('is found where letters of another script stand beside nothing', () => {
    expect(placesOf('käufer', 'Drei Käufer, Käuferinnen')).toEqual([5]);
  });
  it('is taken as it is written', () => {
    expect(placesOf('c++', 'a c++ b')).toEqual([2]);
    expect(placesOf('', 'nothing')).toEqual([]);
  });
});
