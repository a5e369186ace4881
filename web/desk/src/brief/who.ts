import type { Brief } from './types';

/** Something with a name that a brief or a rule refers to by id. */
export interface Named {
  id: string;
  name: string;
}

/** A rule over visitor facts, as the API spells it. */
export type Rule =
  | { kind: 'all'; rules: Rule[] }
  | { kind: 'any'; rules: Rule[] }
  | { kind: 'not'; rule: Rule }
  | { kind: 'segment'; segment: string }
  | Test;

/** One comparison. */
export interface Test {
  kind: 'test';
  fact: Fact;
  comparison: Comparison;
  value: string;
  key: string;
  withinDays: number | null;
}

export type Fact = keyof typeof FACTS;
export type Comparison = keyof typeof COMPARISONS;

interface FactKind {
  name: string;
  takes: 'choice' | 'number' | 'text' | 'page' | 'deed';
  choices?: readonly string[];
  /** What a key names, where the fact needs one. */
  key?: string;
}

/** The facts that visitors are told apart by, in the order in which they are offered. */
export const FACTS = {
  standing: { name: 'standing', takes: 'choice', choices: ['new', 'returning'] },
  identity: { name: 'identity', takes: 'choice', choices: ['known', 'anonymous'] },
  device: { name: 'device', takes: 'choice', choices: ['desktop', 'tablet', 'phone'] },
  language: { name: 'language', takes: 'text' },
  country: { name: 'country', takes: 'text' },
  region: { name: 'region', takes: 'text' },
  city: { name: 'city', takes: 'text' },
  referrer: { name: 'referring host', takes: 'text' },
  campaign: { name: 'campaign', takes: 'text', key: 'parameter' },
  entryPage: { name: 'first page of the visit', takes: 'page' },
  visitNumber: { name: 'number of the visit', takes: 'number' },
  pagesThisVisit: { name: 'pages in this visit', takes: 'number' },
  pagesEver: { name: 'pages ever', takes: 'number' },
  secondsOnSite: { name: 'seconds on the site', takes: 'number' },
  daysSinceLastVisit: { name: 'days since the last visit', takes: 'number' },
  localHour: { name: "hour on the visitor's clock", takes: 'number' },
  bought: { name: 'bought', takes: 'deed' },
  submitted: { name: 'submitted', takes: 'deed' },
  saw: { name: 'saw', takes: 'deed', key: 'callout' },
  closed: { name: 'closed', takes: 'deed', key: 'callout' },
  attribute: { name: 'attribute', takes: 'text', key: 'name' },
  tag: { name: 'tag', takes: 'text' },
} as const satisfies Record<string, FactKind>;

/** A fact with everything it may have. */
export const factOf = (fact: Fact): FactKind => FACTS[fact];

/** The comparisons in words. */
export const COMPARISONS = {
  is: 'is',
  isNot: 'is not',
  contains: 'contains',
  atLeast: 'is at least',
  atMost: 'is at most',
  filled: 'is known',
  empty: 'is not known',
} as const;

/** The comparisons that make sense for a fact. */
export function comparisonsFor(fact: Fact): Comparison[] {
  switch (FACTS[fact].takes) {
    case 'number':
      return ['atLeast', 'atMost', 'is', 'isNot'];
    case 'text':
      return fact === 'attribute'
        ? ['is', 'isNot', 'contains', 'atLeast', 'atMost', 'filled', 'empty']
        : ['is', 'isNot', 'contains', 'filled', 'empty'];
    default:
      return ['is', 'isNot'];
  }
}

/** A comparison with the values a fact begins with. */
export function startTest(fact: Fact): Test {
  const kind = factOf(fact);
  return {
    kind: 'test',
    fact,
    comparison: comparisonsFor(fact)[0] ?? 'is',
    value: kind.choices?.[0] ?? (kind.takes === 'number' ? '2' : kind.takes === 'page' ? '/' : ''),
    key: kind.key === 'parameter' ? 'source' : '',
    withinDays: null,
  };
}

/** A brief's rule in the spelling of this desk. */
export const ruleOf = (who: Brief['who']): Rule => who.rule as Rule;

/** A comparison as a clause. */
export function testWords(test: Test, named: (id: string) => string | undefined): string {
  const fact = factOf(test.fact);
  if (fact.takes === 'deed') {
    const what = test.key ? (named(test.key) ?? 'something that is gone') : test.value || 'anything';
    const within = test.withinDays === null ? '' : ` in the last ${test.withinDays === 1 ? 'day' : `${test.withinDays} days`}`;
    return `${test.comparison === 'is' ? '' : 'have not '}${fact.name} ${what}${within}`;
  }
  const name = test.key ? `${fact.name} ${test.key}` : fact.name;
  const value = test.comparison === 'filled' || test.comparison === 'empty' ? '' : ` ${test.value || '…'}`;
  return `${name} ${COMPARISONS[test.comparison]}${value}`;
}

/** A rule as a clause: "everybody", "new visitors", "visitors whose country is Scotland and …". */
export function ruleWords(given: unknown, names: { segments: readonly Named[]; sources: readonly Named[] }): string {
  const rule = given as Rule;
  const named = (id: string) => [...names.segments, ...names.sources].find((n) => n.id === id)?.name;
  if (rule.kind === 'all' || rule.kind === 'any') {
    if (rule.rules.length === 0) return 'everybody';
    const [only] = rule.rules;
    if (rule.rules.length === 1 && only) return ruleWords(only, names);
    return rule.rules
      .map((r) => (r.kind === 'all' || r.kind === 'any' ? `(${ruleWords(r, names)})` : ruleWords(r, names)))
      .join(rule.kind === 'all' ? ' and ' : ' or ');
  }
  if (rule.kind === 'not') return `not ${ruleWords(rule.rule, names)}`;
  if (rule.kind === 'segment') return named(rule.segment) ?? 'a segment that is gone';
  if (rule.fact === 'standing' && rule.comparison === 'is') return `${rule.value} visitors`;
  if (rule.fact === 'identity' && rule.comparison === 'is') return `${rule.value} visitors`;
  return `visitors whose ${testWords(rule, named)}`
    .replace('whose have not', 'who have not')
    .replace(/whose (bought|submitted|saw|closed)/, 'who $1');
}

/** The devices on which it is shown, as a clause. */
export function deviceWords(hiddenOn: Brief['who']['hiddenOn']): string {
  const all = ['desktop', 'tablet', 'phone'] as const;
  const shown = all.filter((d) => !hiddenOn.includes(d));
  if (shown.length === 3) return 'every device';
  if (shown.length === 0) return 'no device at all';
  return shown.map((d) => `${d}s`).join(' and ');
}
