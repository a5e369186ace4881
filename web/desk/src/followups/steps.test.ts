import { describe, expect, it } from 'vitest';
import type { FollowUp } from './api';
import { blankStep, changesOf, isWhole, line, lineOf, minutesOf, moved, turnedInto, waitOf, waitWords, withWords, wordsOf } from './steps';

const follow = (...steps: FollowUp['steps']): FollowUp => ({
  after: 'tag',
  definitionId: null,
  tag: 'letters',
  steps,
  hours: [],
  goalSourceId: null,
  endsWithTalk: true,
});

describe('a wait', () => {
  it('is said in the unit that says it shortest, and read back the same', () => {
    for (const [minutes, words] of [
      [1, '1 minute'],
      [90, '90 minutes'],
      [120, '2 hours'],
      [1_440, '1 day'],
      [4_320, '3 days'],
    ] as const) {
      expect(waitWords(minutes)).toBe(words);
      const { count, unit } = waitOf(minutes);
      expect(minutesOf(count, unit)).toBe(minutes);
    }
  });
});

describe('words', () => {
  it('of a language that has none yet are empty, and the site’s own stand first', () => {
    const step = withWords(withWords(blankStep('mail'), 'nl', { subject: 'Dag' }), '', { subject: 'Hello' });
    expect(step.words.map((w) => [w.language, w.subject])).toEqual([
      ['', 'Hello'],
      ['nl', 'Dag'],
    ]);
    expect(wordsOf(step, 'fr')).toEqual({ language: 'fr', subject: '', text: '', button: '' });
  });
});

describe('steps', () => {
  it('keep what was written when they are turned into another kind and back', () => {
    const mail = withWords(blankStep('mail'), '', { subject: 'Hello', text: 'One' });
    const wait = turnedInto(mail, 'wait');
    expect(wait.minutes).toBe(1_440);
    expect(turnedInto(wait, 'mail').words).toEqual(mail.words);
    expect(turnedInto({ ...wait, minutes: 5 }, 'wait').minutes).toBe(5);
  });

  it('say in a line what they do, and a text needs no subject', () => {
    const text = withWords(blankStep('text'), '', { text: 'The kiln opens' });
    expect(line(text)).toBe('Text: The kiln opens');
    expect(isWhole(text, '')).toBe(true);
    expect(isWhole(turnedInto(text, 'mail'), '')).toBe(false);
    expect(line({ ...blankStep('tell'), tag: 'came' })).toBe('Tell a webhook: came');
  });

  it('move one place and never over the edge', () => {
    const steps = [blankStep('wait'), blankStep('mail')];
    expect(moved(steps, 0, 1).map((s) => s.kind)).toEqual(['mail', 'wait']);
    expect(moved(steps, 0, -1)).toEqual(steps);
    expect(moved(steps, 1, 1)).toEqual(steps);
  });

  it('have their problems at their line', () => {
    expect(lineOf('steps[12].words')).toBe(12);
    expect(lineOf('after')).toBeUndefined();
  });
});

describe('what changes', () => {
  const [wait, mail] = [blankStep('wait'), withWords(blankStep('mail'), '', { subject: 'Hello', text: 'One' })];

  it('is told step by step', () => {
    const draft = follow({ ...wait, minutes: 2_880 }, withWords(mail, '', { text: 'Two' }), { ...blankStep('tag'), tag: 'warm' });
    expect(changesOf(draft, follow(wait, mail))).toEqual([
      { part: 'Step 1', was: 'Wait 1 day', is: 'Wait 2 days' },
      { part: 'Step 2, its text,' },
      { part: 'Step 3, new', is: 'Tag: warm' },
    ]);
  });

  it('names what is gone, another order and what is beside the steps', () => {
    expect(changesOf(follow(mail), follow(wait, mail))).toEqual([{ part: 'Step 1 of before', was: 'Wait 1 day' }]);
    expect(changesOf(follow(mail, wait), follow(wait, mail))).toEqual([{ part: 'The order of the steps' }]);
    const other = { ...follow(wait, mail), tag: 'kiln', endsWithTalk: false };
    expect(changesOf(other, follow(wait, mail)).map((c) => c.part)).toEqual(['By what somebody comes in', 'When it is over']);
    expect(changesOf(follow(wait, mail), follow(wait, mail))).toEqual([]);
  });
});
