import { expect, test } from 'vitest';
import type { Script } from './api';
import { changesOf } from './changes';
import { blankStep } from './steps';

const said = (words: string) => ({ ...blankStep('say', 0), words: [{ language: '', words, replies: [], retry: '' }] });
const [hello, bye] = [said('Hello'), said('Bye')];
const live: Script = { steps: [hello, bye], lineSeconds: 1, silenceMinutes: 30, fault: [], tries: [] };

test('alike is no change', () => {
  expect(changesOf(structuredClone(live), live)).toEqual([]);
});

test('a step is told by its line, whether reworded, new or gone', () => {
  const draft = { ...live, steps: [{ ...hello, words: [{ language: '', words: 'Good day', replies: [], retry: '' }] }, said('New')] };
  expect(changesOf(draft, live)).toEqual([
    { part: 'Step 1', was: 'Say: Hello', is: 'Say: Good day' },
    { part: 'Step 2, new', is: 'Say: New' },
    { part: 'Step 2 of before', was: 'Say: Bye' },
  ]);
});

test('what no line shows is told as well', () => {
  const german = { ...hello, words: [...hello.words, { language: 'de', words: 'Hallo', replies: [], retry: '' }] };
  expect(changesOf({ ...live, steps: [bye, german], silenceMinutes: 5 }, live)).toEqual([
    { part: 'Step 2, what is behind its line,' },
    { part: 'The order of the steps' },
    { part: 'Languages', was: '', is: 'German' },
    {
      part: 'Pace',
      was: '1 s before a line, ends after 30 minutes of silence',
      is: '1 s before a line, ends after 5 minutes of silence',
    },
  ]);
});
