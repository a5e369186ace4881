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
  ask: kind === 'ask' ? { kind: 'text', field: '', ownWords: false, leads: [], least: null, most: null, times: null } : null,
  if: kind === 'if' || kind === 'elseIf' ? { on: 'answer', field: '', comparison: 'is', value: '' } : null,
  field: '',
  value: '',
  to: 'whoeverIsHere',
  memberId: null,
  target: null,
  groupId: null,
  offers: 'address',
  offered: null,
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

/** A step with all that stands under it, taken before another; at the end where there is none. */
export function carried(steps: readonly Step[], id: string, before: string | undefined): Step[] {
  const from = steps.findIndex((s) => s.id === id);
  const head = steps[from];
  if (!head) return [...steps];
  let end = from + 1;
  while ((steps[end]?.indent ?? -1) > head.indent) end++;
  const block = steps.slice(from, end);
  if (block.some((s) => s.id === before)) return [...steps];
  const rest = [...steps.slice(0, from), ...steps.slice(end)];
  const found = rest.findIndex((s) => s.id === before);
  const to = found < 0 ? rest.length : found;
  // It stands as deep as what it is put before, and what is under it as much deeper as it was.
  const deeper = (rest[to]?.indent ?? 0) - head.indent;
  return settled([...rest.slice(0, to), ...block.map((s) => ({ ...s, indent: s.indent + deeper })), ...rest.slice(to)]);
}

/** Line of a problem's field: "steps[4].ask" is 4; undefined for the whole. */
export function lineOf(field: string): number | undefined {
  const found = /^steps\[(\d+)\]/.exec(field)?.[1];
  return found === undefined ? undefined : Number(found);
}
