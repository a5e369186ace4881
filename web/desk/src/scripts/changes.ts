import type { Change } from '../drafting/changes';
import { languageName } from '../kit/languages';
import { plural } from '../kit/plural';
import type { Script, Step } from './api';
import { KINDS } from './steps';

/** A step as one line: what it does, and the words it does it with. */
function line(step: Step): string {
  const kind = KINDS.find(([k]) => k === step.kind)?.[1] ?? step.kind;
  const words = step.words.find((w) => w.language === '');
  const { if: condition } = step;
  const does =
    words?.words ||
    (condition ? `${condition.field || condition.on} ${condition.value}`.trim() : [step.field, step.value].join(' ').trim());
  const replies = words?.replies.length ? ` (${words.replies.join(', ')})` : '';
  return does ? `${kind}: ${does}${replies}` : kind;
}

const languagesOf = ({ steps }: Script) =>
  [...new Set(steps.flatMap((s) => s.words.map((w) => w.language)).filter(Boolean))].map(languageName).sort().join(', ');

const paceOf = (s: Script) => `${s.lineSeconds} s before a line, ends after ${plural(s.silenceMinutes, 'minute')} of silence`;

const alike = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

/** What differs between two scripts: step by step, as the draft counts them, then the rest. */
export function changesOf(draft: Script, live: Script): Change[] {
  const changes: Change[] = [];
  const before = new Map(live.steps.map((step, at) => [step.id, { step, at }]));
  const now = new Set(draft.steps.map((s) => s.id));
  draft.steps.forEach((step, at) => {
    const old = before.get(step.id);
    if (old && alike(old.step, step)) return;
    const part = `Step ${at + 1}`;
    const [was, is] = [old && line(old.step), line(step)];
    if (was === is) changes.push({ part: `${part}, what is behind its line,` });
    else changes.push({ part: old ? part : `${part}, new`, ...(was === undefined ? {} : { was }), is });
  });
  live.steps.forEach((step, at) => {
    if (!now.has(step.id)) changes.push({ part: `Step ${at + 1} of before`, was: line(step) });
  });
  const kept = (steps: readonly Step[], others: { has(id: string): boolean }) => steps.map((s) => s.id).filter((id) => others.has(id));
  if (!alike(kept(draft.steps, before), kept(live.steps, now))) changes.push({ part: 'The order of the steps' });
  const told: [string, (s: Script) => string][] = [
    ['Languages', languagesOf],
    ['Pace', paceOf],
  ];
  for (const [part, of] of told) if (of(draft) !== of(live)) changes.push({ part, was: of(live), is: of(draft) });
  if (!alike(draft.fault, live.fault)) changes.push({ part: 'What it says when something goes wrong' });
  if (!alike(draft.tries ?? [], live.tries ?? [])) changes.push({ part: 'Its kept tries' });
  return changes;
}
