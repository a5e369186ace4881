import { describe, expect, it, test } from 'vitest';
import { fillReply, mentionAt, mentioned, putIn, shortcutAt } from './fill';

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

test('what is chosen stands as it is written, money signs and all', () => {
  expect(putIn('Hello /pri', '/', 'That is $& or $$5 a piece.')).toBe('Hello That is $& or $$5 a piece.');
  expect(putIn('ask @Jo', '@', '@Jonas Hale ')).toBe('ask @Jonas Hale ');
});

describe('whom a note tells', () => {
  const team = [
    { id: 'jonas', name: 'Jonas Hale' },
    { id: 'jo', name: 'Jo Reed' },
    { id: 'ines', name: 'Ines Okoro' },
    { id: 'other', name: 'Ines Vale' },
  ];
  it('is whoever is named whole, or by a first name that is theirs alone', () => {
    expect(mentioned('@Jonas do you know?', team)).toEqual(['jonas']);
    expect(mentioned('ask @Jo, please', team)).toEqual(['jo']);
    expect(mentioned('@Ines?', team)).toEqual([]);
    expect(mentioned('@Ines Vale?', team)).toEqual(['other']);
    expect(mentioned('write to a@Jonas', team)).toEqual([]);
  });

  it('is offered after the sign, and not within an address', () => {
    expect(mentionAt('see @Jo')).toBe('Jo');
    expect(mentionAt('@')).toBe('');
    expect(mentionAt('@Ines O')).toBe('Ines O');
    expect(mentionAt('me@Jo')).toBeUndefined();
    expect(mentionAt('no sign')).toBeUndefined();
  });
});
