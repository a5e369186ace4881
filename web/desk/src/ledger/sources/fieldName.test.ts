import { describe, expect, it } from 'vitest';
import { fieldName } from './fieldName';

describe('the name of a kept field', () => {
  it('is the last part of its place', () => {
    expect(fieldName('/order/lines/0/gift_note')).toBe('gift_note');
    expect(fieldName('Shoe size')).toBe('shoe_size');
    expect(fieldName('meta.colour')).toBe('colour');
  });

  it('is made of letters, digits and underscores alone, in any script', () => {
    expect(fieldName('Größe (EU)')).toBe('größe_eu');
    expect(fieldName('/サイズ')).toBe('サイズ');
  });

  it('is never empty and never too long', () => {
    expect(fieldName('/')).toBe('field');
    expect(fieldName('!!!')).toBe('field');
    expect(fieldName('x'.repeat(100))).toHaveLength(60);
  });
});
