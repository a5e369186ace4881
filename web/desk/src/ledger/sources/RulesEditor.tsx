import { X } from 'lucide-react';
import { comparisonWords } from '../../brief/words';
import type { Schema } from '../../data/api';
import { Button } from '../../kit/Button';
import { NumberField, SelectField, Tick } from '../../kit/Field';
import { useRowKeys } from '../../kit/useRowKeys';
import type { EventKind } from '../words';
import { ShownFields } from './FormEditor';

export type Rules = Schema<'SourceRules'>;
export type Display = Schema<'DisplayPolicy'>;

const COMPARISONS = ['is', 'isNot', 'contains', 'greater', 'less', 'filled'] as const;

const NAMES = [
  ['firstAndInitial', 'first name and last initial: Saoirse M.'],
  ['firstOnly', 'first name alone: Saoirse'],
  ['initials', 'initials: S. M.'],
  ['initialOnly', 'first initial: S.'],
  ['hidden', 'no name: Someone'],
] as const;

const PLACES = [
  ['city', 'city'],
  ['region', 'region'],
  ['country', 'country'],
  ['none', 'no place'],
] as const;

/** What of its events counts, and what waits for a look. */
export function RulesEditor({
  kind,
  rules,
  fields,
  onRules,
}: {
  kind: EventKind;
  rules: Rules;
  fields: readonly string[];
  onRules(rules: Rules): void;
}) {
  const rows = useRowKeys(rules.conditions.length);
  const set = (place: number, change: Partial<Rules['conditions'][number]>) =>
    onRules({ ...rules, conditions: rules.conditions.map((c, i) => (i === place ? { ...c, ...change } : c)) });
  return (
    <div className="grid gap-2">
      {rules.conditions.length > 1 && (
        <SelectField
          label="It counts when"
          value={rules.join}
          choices={[
            ['all', 'all of these hold'],
            ['any', 'one of these holds'],
          ]}
          onChoose={(join) => onRules({ ...rules, join })}
        />
      )}
      {rules.conditions.map((condition, place) => (
        <div key={rows.keys[place]} className="grid grid-cols-[minmax(0,1fr)_104px_minmax(0,1fr)_32px] items-center gap-1">
          <SelectField
            label={`Field of condition ${place + 1}`}
            hideLabel
            value={condition.field}
            choices={[['', 'field…'], ...fields.map((f) => [f, f] as const)]}
            onChoose={(field) => set(place, { field })}
          />
          <SelectField
            label={`Comparison of condition ${place + 1}`}
            hideLabel
            value={condition.comparison}
            choices={COMPARISONS.map((c) => [c, comparisonWords(c)] as const)}
            onChoose={(comparison) => set(place, { comparison })}
          />
          {condition.comparison === 'filled' ? (
            <span />
          ) : (
            <input
              aria-label={`Value of condition ${place + 1}`}
              value={condition.value}
              onChange={(e) => set(place, { value: e.currentTarget.value })}
              className="min-w-0"
            />
          )}
          <button
            type="button"
            aria-label={`Remove condition ${place + 1}`}
            className="grid h-8 w-8 place-items-center"
            onClick={() => {
              rows.removed(place);
              onRules({ ...rules, conditions: rules.conditions.filter((_, i) => i !== place) });
            }}
          >
            <X className="h-4 w-4" />
          </button>
        </div>
      ))}
      <p>
        <Button
          kind="link"
          onClick={() => onRules({ ...rules, conditions: [...rules.conditions, { field: '', comparison: 'is', value: '' }] })}
        >
          {rules.conditions.length === 0 ? 'Count only what meets a condition' : 'Another condition'}
        </Button>
      </p>
      {kind === 'review' && (
        <NumberField
          label="Shown from"
          min={0}
          max={5}
          value={rules.leastStars}
          onValue={(leastStars) => onRules({ ...rules, leastStars })}
          after="stars"
        />
      )}
      <Tick checked={rules.holdsAll} onTick={(holdsAll) => onRules({ ...rules, holdsAll })}>
        Hold everything until somebody has looked at it
      </Tick>
    </div>
  );
}

/** The most that visitors may ever read of its events; no callout can go beyond it. */
export function DisplayEditor({
  display,
  own,
  hasPeople,
  hasAmounts,
  onDisplay,
}: {
  display: Display;
  own: readonly string[];
  hasPeople: boolean;
  hasAmounts: boolean;
  onDisplay(display: Display): void;
}) {
  return (
    <div className="grid gap-3">
      {hasPeople && (
        <>
          <SelectField label="Names" value={display.name} choices={NAMES} onChoose={(name) => onDisplay({ ...display, name })} />
          <SelectField
            label="Places, at the finest"
            value={display.place}
            choices={PLACES}
            onChoose={(place) => onDisplay({ ...display, place })}
          />
          <p className="text-[12px] leading-4 text-soft">A place is never said more finely than five people share it.</p>
        </>
      )}
      {hasAmounts && (
        <div className="grid">
          <Tick checked={display.showAmount} onTick={(showAmount) => onDisplay({ ...display, showAmount })}>
            Amounts may be read
          </Tick>
          {display.showAmount && (
            <Tick checked={display.roundAmount} onTick={(roundAmount) => onDisplay({ ...display, roundAmount })}>
              rounded down: £60+ for £64
            </Tick>
          )}
        </div>
      )}
      <ShownFields own={own} shown={display.shownFields} onShown={(shownFields) => onDisplay({ ...display, shownFields })} />
    </div>
  );
}
