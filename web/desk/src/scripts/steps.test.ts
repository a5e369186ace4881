import { expect, test } from 'vitest';
import { blankStep, carried, inserted, lineOf, moved, settled, turned } from './steps';

const steps = [blankStep('ask', 0), blankStep('if', 0), blankStep('say', 1), blankStep('say', 0)];
const indents = (all: { indent: number }[]) => all.map((s) => s.indent);

test('no step stands deeper than it can belong to something', () => {
  expect(indents(settled([blankStep('say', 3), blankStep('if', 0), blankStep('say', 4)]))).toEqual([0, 0, 1]);
  expect(indents(moved(steps, 3, 'in'))).toEqual([0, 0, 1, 1]);
  expect(indents(moved(steps, 0, 'in'))).toEqual([0, 0, 1, 0]);
  expect(indents(moved(steps, 2, 'out'))).toEqual([0, 0, 0, 0]);
});

test('a new step goes within what takes steps, and after anything else', () => {
  expect(indents(inserted(steps, 1))).toEqual([0, 0, 1, 1, 0]);
  expect(indents(inserted(steps, 0))).toEqual([0, 0, 0, 1, 0]);
});

test('moving keeps every step', () => {
  const up = moved(steps, 3, 'up');
  expect(up.map((s) => s.id).sort()).toEqual(steps.map((s) => s.id).sort());
  expect(moved(steps, 0, 'up').map((s) => s.id)).toEqual(steps.map((s) => s.id));
});

test('a step is carried with all that stands under it, and never into itself', () => {
  const [ask, branch, said, last] = steps.map((s) => s.id);
  expect(carried(steps, branch as string, undefined).map((s) => s.id)).toEqual([ask, last, branch, said]);
  expect(indents(carried(steps, branch as string, ask))).toEqual([0, 1, 0, 0]);
  expect(carried(steps, branch as string, said).map((s) => s.id)).toEqual(steps.map((s) => s.id));
  expect(indents(carried(steps, last as string, said))).toEqual([0, 0, 1, 1]);
});

test('turned into a question it has one, and keeps its words and its id', () => {
  const said = { ...blankStep('say', 0), words: [{ language: '', words: 'Hello', replies: [], retry: '' }] };
  const asked = turned(said, 'ask');
  expect([asked.id, asked.words, asked.ask?.kind]).toEqual([said.id, said.words, 'text']);
  expect(turned(asked, 'say').ask).toBeNull();
});

test('a problem names its line', () => {
  expect(lineOf('steps[12].ask.leads[1]')).toBe(12);
  expect(lineOf('silenceMinutes')).toBeUndefined();
});
