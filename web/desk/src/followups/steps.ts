import type { Change } from '../drafting/changes';
import { languageName } from '../kit/languages';
import { plural } from '../kit/plural';
import type { FollowStep, FollowUp, FollowWords } from './api';

export const KINDS: readonly (readonly [FollowStep['kind'], string])[] = [
  ['wait', 'Wait'],
  ['mail', 'Write'],
  ['text', 'Text'],
  ['tag', 'Tag'],
  ['tell', 'Tell'],
];

/** Whether a step writes to somebody. */
export const writes = (step: FollowStep) => step.kind === 'mail' || step.kind === 'text';

const BLANK: Omit<FollowWords, 'language'> = { subject: '', text: '', button: '' };

/** A step with nothing in it yet. */
export const blankStep = (kind: FollowStep['kind']): FollowStep => ({
  id: crypto.randomUUID(),
  kind,
  minutes: kind === 'wait' ? 1_440 : 0,
  words: kind === 'mail' || kind === 'text' ? [{ language: '', ...BLANK }] : [],
  link: '',
  tag: '',
  webhookId: null,
});

/** The step as another kind: what was written stays with it, in case it is turned back. */
export function turnedInto(step: FollowStep, kind: FollowStep['kind']): FollowStep {
  const blank = blankStep(kind);
  return { ...step, kind, minutes: step.minutes || blank.minutes, words: step.words.length > 0 ? step.words : blank.words };
}

/** Whether a language has all that a step says. */
export const isWhole = (step: FollowStep, language: string) =>
  step.words.some((w) => w.language === language && w.text && (w.subject || step.kind === 'text'));

/** Its words in one language; empty where there are none yet. */
export const wordsOf = (step: FollowStep, language: string): FollowWords =>
  step.words.find((w) => w.language === language) ?? { language, ...BLANK };

/** The step with words changed in one language; the site's own stand first. */
export function withWords(step: FollowStep, language: string, change: Partial<FollowWords>): FollowStep {
  const entry = { ...wordsOf(step, language), ...change };
  const rest = step.words.filter((w) => w.language !== language);
  return { ...step, words: language === '' ? [entry, ...rest] : [...rest, entry] };
}

const DAY = 1_440;

/** A wait in the unit that says it shortest. */
export function waitOf(minutes: number): { count: number; unit: 'minutes' | 'hours' | 'days' } {
  if (minutes > 0 && minutes % DAY === 0) return { count: minutes / DAY, unit: 'days' };
  if (minutes > 0 && minutes % 60 === 0) return { count: minutes / 60, unit: 'hours' };
  return { count: minutes, unit: 'minutes' };
}

export const minutesOf = (count: number, unit: 'minutes' | 'hours' | 'days') =>
  Math.round(count * (unit === 'days' ? DAY : unit === 'hours' ? 60 : 1));

export function waitWords(minutes: number): string {
  const { count, unit } = waitOf(minutes);
  return plural(count, unit.slice(0, -1));
}

/** A step one place up or down. */
export function moved(steps: readonly FollowStep[], at: number, by: -1 | 1): FollowStep[] {
  const next = [...steps];
  const [step, other] = [next[at], next[at + by]];
  if (!step || !other) return next;
  next[at] = other;
  next[at + by] = step;
  return next;
}

/** A step as one line. */
export function line(step: FollowStep): string {
  if (step.kind === 'wait') return `Wait ${waitWords(step.minutes)}`;
  if (step.kind === 'tag') return `Tag: ${step.tag}`;
  if (step.kind === 'tell') return step.tag ? `Tell a webhook: ${step.tag}` : 'Tell a webhook';
  const own = wordsOf(step, '');
  return step.kind === 'text' ? `Text: ${own.text}` : `Write: ${own.subject}`;
}

const alike = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

const languagesOf = ({ steps }: FollowUp) =>
  [
    ...new Set(
      steps
        .filter(writes)
        .flatMap((s) => s.words.map((w) => w.language))
        .filter(Boolean),
    ),
  ]
    .map(languageName)
    .sort()
    .join(', ');

/** What differs between two follow-ups: step by step, as the draft counts them, then the rest. */
export function changesOf(draft: FollowUp, live: FollowUp): Change[] {
  const changes: Change[] = [];
  const before = new Map(live.steps.map((s) => [s.id, s]));
  const now = new Set(draft.steps.map((s) => s.id));
  draft.steps.forEach((step, at) => {
    const old = before.get(step.id);
    if (old && alike(old, step)) return;
    const part = `Step ${at + 1}`;
    const [was, is] = [old && line(old), line(step)];
    if (was === is) changes.push({ part: `${part}, its text,` });
    else changes.push({ part: old ? part : `${part}, new`, ...(was === undefined ? {} : { was }), is });
  });
  live.steps.forEach((step, at) => {
    if (!now.has(step.id)) changes.push({ part: `Step ${at + 1} of before`, was: line(step) });
  });
  const kept = (steps: readonly FollowStep[], others: { has(id: string): boolean }) =>
    steps.map((s) => s.id).filter((id) => others.has(id));
  if (!alike(kept(draft.steps, before), kept(live.steps, now))) changes.push({ part: 'The order of the steps' });
  if (languagesOf(draft) !== languagesOf(live)) changes.push({ part: 'Languages', was: languagesOf(live), is: languagesOf(draft) });
  if (draft.after !== live.after || draft.definitionId !== live.definitionId || draft.tag !== live.tag)
    changes.push({ part: 'By what somebody comes in' });
  if (!alike(draft.hours, live.hours)) changes.push({ part: 'When it writes' });
  if (draft.goalSourceId !== live.goalSourceId || draft.endsWithTalk !== live.endsWithTalk) changes.push({ part: 'When it is over' });
  return changes;
}

/** Line of a problem's field: "steps[4].words" is 4; undefined for the whole. */
export function lineOf(field: string): number | undefined {
  const found = /^steps\[(\d+)\]/.exec(field)?.[1];
  return found === undefined ? undefined : Number(found);
}
