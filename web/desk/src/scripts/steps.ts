import type { Step, StepKind } from './api';

export const KINDS: readonly (readonly [StepKind, string])[] = [
  ['say', 'Say'],
  ['ask', 'Ask'],
  ['if', 'If'],
  ['elseIf', 'Else if'],
  ['else', 'Else'],
  ['keep', 'Keep'],
  ['handOver', 'Hand over'],
  ['offer', 'Offer'],
  ['goTo', 'Go to'],
  ['end', 'End'],
];

const TAKES = new Set<StepKind>(['if', 'elseIf', 'else', 'handOver']);

/** A step with nothing in it yet. */
export const blankStep = (kind: StepKind, indent: number): Step => ({
  id: crypto.randomUUID(),
  indent,
  kind,
  words: [],
  ask: kind === 'ask' ? { kind: 'text', field: '', ownWords: false, leads: [], least: null, most: null } : null,
  if: kind === 'if' || kind === 'elseIf' ? { on: 'answer', field: '', comparison: 'is', value: '' } : null,
  field: '',
  value: '',
  to: 'whoeverIsHere',
  memberId: null,
  target: null,
});

/** A step turned into another kind; what both have stays. */
export function turned(step: Step, kind: StepKind): Step {
  const blank = blankStep(kind, step.indent);
  return {
    ...blank,
    id: step.id,
    words: step.words,
    ask: kind === 'ask' ? (step.ask ?? blank.ask) : null,
    if: blank.if && (step.if ?? blank.if),
  };
}

/** How deep a step may stand after the one above it. */
const deepest = (above: Step | undefined) => (above ? above.indent + (TAKES.has(above.kind) ? 1 : 0) : 0);

/** Every step no deeper than it can belong to something. */
export function settled(steps: readonly Step[]): Step[] {
  const all: Step[] = [];
  for (const step of steps) {
    const most = deepest(all.at(-1));
    all.push(step.indent > most ? { ...step, indent: most } : step);
  }
  return all;
}

/** A new step after one: within it, where it takes steps. */
export function inserted(steps: readonly Step[], after: number): Step[] {
  const above = steps[after];
  return settled([...steps.slice(0, after + 1), blankStep('say', deepest(above)), ...steps.slice(after + 1)]);
}

/** A step one place up or down, or deeper or less deep. */
export function moved(steps: readonly Step[], at: number, how: 'up' | 'down' | 'in' | 'out'): Step[] {
  const step = steps[at];
  if (!step) return [...steps];
  if (how === 'in' || how === 'out')
    return settled(steps.map((s, i) => (i === at ? { ...s, indent: Math.max(0, s.indent + (how === 'in' ? 1 : -1)) } : s)));
  const to = how === 'up' ? at - 1 : at + 1;
  const other = steps[to];
  if (!other) return [...steps];
  return settled(steps.map((s, i) => (i === at ? other : i === to ? step : s)));
}

/** Line of a problem's field: "steps[4].ask" is 4; undefined for the whole. */
export function lineOf(field: string): number | undefined {
  const found = /^steps\[(\d+)\]/.exec(field)?.[1];
  return found === undefined ? undefined : Number(found);
}
