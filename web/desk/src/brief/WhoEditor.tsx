import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { type ComponentProps, useId, useState } from 'react';
import { addSegment, calloutsQuery, seenFactsQuery } from '../catalogue/api';
import { Button } from '../kit/Button';
import { Choice, NumberField, TextField } from '../kit/Field';
import { TypedInput } from '../kit/Typed';
import { useRowKeys } from '../kit/useRowKeys';
import { useDesk } from '../session/desk';
import { COMPARISONS, type Comparison, comparisonsFor, FACTS, type Fact, factOf, type Named, type Rule, startTest, type Test } from './who';

const FACT_NAMES = Object.keys(FACTS) as Fact[];
type Group = Extract<Rule, { kind: 'all' | 'any' }>;

/** A rule over visitor facts: a list of comparisons and groups joined by all or any. */
export function RuleEditor({
  rule,
  segments,
  keepable = true,
  onChange,
}: {
  rule: Rule;
  segments: readonly Named[];
  /** Whether it may be kept as a segment from here. */
  keepable?: boolean;
  onChange(rule: Rule): void;
}) {
  const group: Group = rule.kind === 'all' || rule.kind === 'any' ? rule : { kind: 'all', rules: [rule] };
  return (
    <div className="grid gap-3">
      <GroupEditor group={group} segments={segments} depth={0} onChange={onChange} />
      {keepable && group.rules.length > 0 && <SaveSegment rule={group} onSaved={(id) => onChange({ kind: 'segment', segment: id })} />}
    </div>
  );
}

function GroupEditor({
  group,
  segments,
  depth,
  onChange,
}: {
  group: Group;
  segments: readonly Named[];
  depth: number;
  onChange(group: Group): void;
}) {
  const set = (place: number, rule: Rule) => onChange({ ...group, rules: group.rules.map((r, i) => (i === place ? rule : r)) });
  const rows = useRowKeys(group.rules.length);
  const remove = (place: number) => {
    rows.removed(place);
    onChange({ ...group, rules: group.rules.filter((_, i) => i !== place) });
  };
  const add = (rule: Rule) => onChange({ ...group, rules: [...group.rules, rule] });
  return (
    <div className={`grid gap-2 ${depth > 0 ? 'border-s-2 border-hair ps-3' : ''}`}>
      {group.rules.length > 1 && (
        <Choice
          legend={depth === 0 ? 'Visitors of whom' : 'of whom'}
          value={group.kind}
          choices={[
            ['all', 'all of this holds'],
            ['any', 'any of this holds'],
          ]}
          onChoose={(kind) => onChange({ ...group, kind })}
        />
      )}
      {group.rules.length === 0 && <p>Everybody.</p>}
      {group.rules.map((rule, place) => (
        <div key={rows.keys[place]} className="flex items-start gap-1">
          <div className="min-w-0 flex-1">
            <PartEditor rule={rule} segments={segments} depth={depth} onChange={(r) => set(place, r)} />
          </div>
          <button
            type="button"
            aria-label={`Remove part ${place + 1}`}
            className="grid h-8 w-8 flex-none place-items-center"
            onClick={() => remove(place)}
          >
            <X className="h-4 w-4" />
          </button>
        </div>
      ))}
      <p className="flex flex-wrap gap-2">
        <Button onClick={() => add(startTest('standing'))}>Add a comparison</Button>
        {segments.length > 0 && <Button onClick={() => add({ kind: 'segment', segment: segments[0]?.id ?? '' })}>Add a segment</Button>}
        {depth < 2 && group.rules.length > 0 && (
          <Button onClick={() => add({ kind: 'any', rules: [startTest('country')] })}>Add a group</Button>
        )}
      </p>
    </div>
  );
}

function PartEditor({
  rule,
  segments,
  depth,
  onChange,
}: {
  rule: Rule;
  segments: readonly Named[];
  depth: number;
  onChange(rule: Rule): void;
}) {
  const inverted = rule.kind === 'not';
  const part = rule.kind === 'not' ? rule.rule : rule;
  const put = (r: Rule) => onChange(inverted ? { kind: 'not', rule: r } : r);
  if (part.kind === 'all' || part.kind === 'any') return <GroupEditor group={part} segments={segments} depth={depth + 1} onChange={put} />;
  if (part.kind === 'segment')
    return (
      <div className="flex gap-1">
        <select
          aria-label="In or not in"
          value={inverted ? 'not' : 'in'}
          onChange={(e) => onChange(e.currentTarget.value === 'not' ? { kind: 'not', rule: part } : part)}
        >
          <option value="in">in the segment</option>
          <option value="not">not in the segment</option>
        </select>
        <select
          aria-label="Segment"
          value={part.kind === 'segment' ? part.segment : ''}
          className="min-w-0 flex-1"
          onChange={(e) => put({ kind: 'segment', segment: e.currentTarget.value })}
        >
          {segments.map((s) => (
            <option key={s.id} value={s.id}>
              {s.name}
            </option>
          ))}
        </select>
      </div>
    );
  if (part.kind !== 'test') return null;
  return (
    <div className="grid gap-1">
      {inverted && (
        <select
          aria-label="Holds or not"
          value="not"
          className="justify-self-start"
          onChange={(e) => e.currentTarget.value === 'so' && onChange(part)}
        >
          <option value="not">it must not hold that</option>
          <option value="so">it must hold that</option>
        </select>
      )}
      <TestEditor test={part} onChange={put} />
    </div>
  );
}

const CAMPAIGN = ['source', 'medium', 'campaign', 'term', 'content'];

function TestEditor({ test, onChange }: { test: Test; onChange(test: Test): void }) {
  const fact = factOf(test.fact);
  const { valuesOf, keysOf } = useSeen();
  const needsValue = test.comparison !== 'filled' && test.comparison !== 'empty' && !(fact.takes === 'deed' && test.fact !== 'bought');
  return (
    <div className="flex flex-wrap items-center gap-1">
      <select aria-label="Fact" value={test.fact} onChange={(e) => onChange(startTest(e.currentTarget.value as Fact))}>
        {FACT_NAMES.map((name) => (
          <option key={name} value={name}>
            {FACTS[name].name}
          </option>
        ))}
      </select>
      {fact.key && <KeyField kind={fact.key} seen={keysOf(test.fact)} value={test.key} onValue={(key) => onChange({ ...test, key })} />}
      <select
        aria-label="Comparison"
        value={test.comparison}
        onChange={(e) => onChange({ ...test, comparison: e.currentTarget.value as Comparison })}
      >
        {comparisonsFor(test.fact).map((c) => (
          <option key={c} value={c}>
            {fact.takes === 'deed' ? (c === 'is' ? 'yes' : 'no') : COMPARISONS[c]}
          </option>
        ))}
      </select>
      {fact.choices ? (
        <select aria-label="Value" value={test.value} onChange={(e) => onChange({ ...test, value: e.currentTarget.value })}>
          {fact.choices.map((c) => (
            <option key={c}>{c}</option>
          ))}
        </select>
      ) : (
        needsValue && (
          <SuggestedInput
            key={test.fact}
            label="Value"
            seen={valuesOf(test.fact, test.key)}
            className="w-36"
            placeholder={
              fact.takes === 'deed'
                ? 'anything'
                : fact.takes === 'page'
                  ? '/journal/**'
                  : test.comparison === 'atLeast' || test.comparison === 'atMost'
                    ? 'a number or a date'
                    : ''
            }
            inputMode={fact.takes === 'number' ? 'numeric' : 'text'}
            value={test.value}
            onValue={(value) => onChange({ ...test, value })}
          />
        )
      )}
      {fact.takes === 'deed' && (
        <NumberField
          label="in the last"
          value={test.withinDays ?? 0}
          min={0}
          max={730}
          after="days; 0 is ever"
          onValue={(days) => onChange({ ...test, withinDays: days === 0 ? null : days })}
        />
      )}
    </div>
  );
}

function KeyField({ kind, seen, value, onValue }: { kind: string; seen: readonly string[]; value: string; onValue(value: string): void }) {
  const { site } = useDesk();
  const { data: callouts = [] } = useQuery({ ...calloutsQuery(site.id), enabled: kind === 'callout' });
  if (kind === 'name') return <SuggestedInput label="Attribute's name" seen={seen} className="w-32" value={value} onValue={onValue} />;
  const choices = kind === 'parameter' ? [...new Set([...CAMPAIGN, ...seen])].map((c) => ({ id: c, name: c })) : callouts;
  return (
    <select
      aria-label={kind === 'parameter' ? 'Campaign parameter' : 'Callout'}
      value={value}
      onChange={(e) => onValue(e.currentTarget.value)}
    >
      {!choices.some((c) => c.id === value) && <option value={value}>choose</option>}
      {choices.map((c) => (
        <option key={c.id} value={c.id}>
          {c.name}
        </option>
      ))}
    </select>
  );
}

/** Values and keys that recorded visitors had; nothing while that is being fetched, since what is typed counts anyway. */
function useSeen() {
  const { site } = useDesk();
  const { data = [] } = useQuery(seenFactsQuery(site.id));
  return {
    valuesOf: (fact: Fact, key: string) => data.find((s) => s.fact === fact && s.key === key)?.values ?? [],
    keysOf: (fact: Fact) => data.filter((s) => s.fact === fact).map((s) => s.key),
  };
}

function SuggestedInput({
  label,
  seen,
  ...input
}: { label: string; seen: readonly string[] } & Omit<ComponentProps<typeof TypedInput>, 'list'>) {
  const list = useId();
  return (
    <>
      <TypedInput aria-label={label} list={list} {...input} />
      <datalist id={list}>
        {seen.map((value) => (
          <option key={value} value={value} />
        ))}
      </datalist>
    </>
  );
}

function SaveSegment({ rule, onSaved }: { rule: Rule; onSaved(id: string): void }) {
  const { site } = useDesk();
  const queries = useQueryClient();
  const [name, setName] = useState<string>();
  const save = useMutation({
    mutationFn: () => addSegment(site.id, { name: name ?? '', rule: rule as never }),
    onSuccess: async (made) => {
      await queries.invalidateQueries({ queryKey: ['segments'] });
      onSaved(made.id);
    },
  });
  if (name === undefined)
    return (
      <p>
        <button type="button" className="min-h-8 font-semibold text-cobalt hover:underline" onClick={() => setName('')}>
          Save this rule as a segment
        </button>
      </p>
    );
  return (
    <div className="grid gap-2">
      <TextField
        label="Name of the segment"
        value={name}
        maxLength={60}
        error={save.error?.message}
        onChange={(e) => setName(e.currentTarget.value)}
      />
      <p>
        <Button onClick={() => save.mutate()} disabled={name.trim() === '' || save.isPending}>
          Save segment
        </Button>
      </p>
    </div>
  );
}
