import { expect, test } from 'vitest';
import { fillReply, shortcutAt } from './fill';

const facts = { name: 'Leila', page: '/workshops', member: 'Marta' };

test('names what is known and falls back where nothing is', () => {
  expect(fillReply('Hello {{ name | default: "there" }}, {{member}} here.', facts)).toBe('Hello Leila, Marta here.');
  expect(fillReply('Hello {{ name | default: "there" }}.', { ...facts, name: '' })).toBe('Hello there.');
  expect(fillReply('{{ unknown }}', facts)).toBe('{{ unknown }}');
});

test('knows a shortcut only at the end, and not within a word or an address', () => {
  expect(shortcutAt('/')).toBe('');
  expect(shortcutAt('Hello /ho')).toBe('ho');
  expect(shortcutAt('and/or')).toBeUndefined();
  expect(shortcutAt('/hours are')).toBeUndefined();
});
