import { X } from 'lucide-react';
import { PagePatterns } from '../catalogue/PagePatterns';
import { Button } from '../kit/Button';
import { Choice, NumberField, Tick } from '../kit/Field';
import { useRowKeys } from '../kit/useRowKeys';
import { nearWords } from './model';
import type { Brief, Source } from './types';
import { comparisonWords, windowWords } from './words';

type From = Brief['from'];
type Change = (change: Partial<From>) => void;

const WINDOWS = [60, 24 * 60, 7 * 24 * 60, 14 * 24 * 60, 30 * 24 * 60, null];
const COMPARISONS = ['is', 'isNot', 'contains', 'greater', 'less', 'filled'] as const;

/** Which sources, and in which order their events are told. */
export function SourcesEditor({ from, sources, onChange }: { from: From; sources: readonly Source[]; onChange: Change }) {
  return (
    <div className="grid gap-3">
      <fieldset className="grid gap-1">
        <legend className="mb-1 font-semibold">Sources</legend>
        {sources.map((source) => (
          <Tick
            key={source.id}
            checked={from.sources.includes(source.id)}
            onTick={(on) => onChange({ sources: on ? [...from.sources, source.id] : from.sources.filter((id) => id !== source.id) })}
          >
            {source.name} <span className="text-soft">{source.eventsLastDay} in the last 24 hours</span>
          </Tick>
        ))}
      </fieldset>
      <Tick checked={from.shuffle} onTick={(shuffle) => onChange({ shuffle })}>
        Shuffle them, so nobody can work out your sales rate; the order stays the same within a visit
      </Tick>
    </div>
  );
}

/** How far back. */
export function WindowEditor({ from, orNow, onChange }: { from: From; orNow: boolean; onChange: Change }) {
  const choices = WINDOWS.map(
    (w) => [String(w), w === null && orNow ? 'here now: a sign of life in the last 60 seconds' : windowWords(w)] as const,
  );
  const known = WINDOWS.includes(from.windowMinutes);
  return (
    <div className="grid gap-3">
      <Choice
        legend="Window, rolling back from now"
        value={String(from.windowMinutes)}
        choices={known ? choices : [...choices, [String(from.windowMinutes), windowWords(from.windowMinutes)] as const]}
        onChoose={(v) => onChange({ windowMinutes: v === 'null' ? null : Number(v) })}
      />
      <NumberField
        label="Or the last"
        value={from.windowMinutes ?? 60}
        min={1}
        max={1_051_200}
        after="minutes"
        onValue={(windowMinutes) => onChange({ windowMinutes })}
      />
      <Tick checked={from.oldestDays !== null} onTick={(on) => onChange({ oldestDays: on ? 30 : null })}>
        Ignore older events
      </Tick>
      {from.oldestDays !== null && (
        <NumberField
          label="Older than"
          value={from.oldestDays}
          min={1}
          max={730}
          after="days"
          onValue={(oldestDays) => onChange({ oldestDays })}
        />
      )}
      <p className="text-soft">Visitors read the span the events truly cover, never more: "in the last 16 hours".</p>
    </div>
  );
}

/** What a count counts. */
export function MeasureEditor({ from, onChange }: { from: From; onChange: Change }) {
  return (
    <Choice
      legend="Count"
      value={from.measure}
      choices={[
        ['people', 'people behind the events, each once'],
        ['events', 'events, however many one person did'],
        ['visitors', 'visitors who looked at pages, each once'],
        ['pageViews', 'page views'],
      ]}
      onChoose={(measure) => onChange({ measure })}
    />
  );
}

const NEARNESS = ['anywhere', 'countryFirst', 'countryOnly', 'regionFirst', 'regionOnly'] as const;

/** Whose events, by place, and whether only what the page is about. */
export function NearEditor({ from, onChange }: { from: From; onChange: Change }) {
  return (
    <div className="grid gap-3">
      <Choice
        legend="Events"
        value={from.near}
        choices={NEARNESS.map((n) => [n, nearWords(n)] as const)}
        onChoose={(near) => onChange({ near })}
      />
      <Tick checked={from.ofThisPage} onTick={(ofThisPage) => onChange({ ofThisPage })}>
        Only what is about the product of the page on which it is read
      </Tick>
    </div>
  );
}

/** Which pages are counted. */
export function CountedPagesEditor({ from, onChange }: { from: From; onChange: Change }) {
  const pages = from.ofThisPage ? 'this' : from.pages.length > 0 ? 'own' : 'same';
  return (
    <div className="grid gap-3">
      <Choice
        legend="Counted are looks at"
        value={pages}
        choices={[
          ['same', 'the pages where it shows'],
          ['this', 'the very page that is read'],
          ['own', 'other pages'],
        ]}
        onChoose={(chosen) => onChange({ ofThisPage: chosen === 'this', pages: chosen === 'own' ? ['/'] : [] })}
      />
      {pages === 'own' && (
        <PagePatterns title="Counted are looks at" empty="No page yet" patterns={from.pages} onChange={(own) => onChange({ pages: own })} />
      )}
    </div>
  );
}

/** The most that may be left. */
export function LeftEditor({ from, onChange }: { from: From; onChange: Change }) {
  return (
    <div className="grid gap-2">
      <NumberField
        label="Say it at"
        value={from.mostLeft}
        min={1}
        max={10_000}
        after="left or fewer"
        onValue={(mostLeft) => onChange({ mostLeft })}
      />
      <Tick checked={from.ofThisPage} onTick={(ofThisPage) => onChange({ ofThisPage })}>
        Only of the product of the page on which it is read
      </Tick>
      <p className="text-soft">What is sold out is not said, and it goes by itself once restocked.</p>
    </div>
  );
}

/** The fewest stars. */
export function StarsEditor({ from, onChange }: { from: From; onChange: Change }) {
  return (
    <div className="grid gap-2">
      <NumberField
        label="Tell reviews from"
        value={from.leastStars}
        min={0}
        max={5}
        after="stars; 0 also takes words without stars"
        onValue={(leastStars) => onChange({ leastStars })}
      />
    </div>
  );
}

/** Conditions on the events' fields. */
export function ConditionsEditor({ from, sources, onChange }: { from: From; sources: readonly Source[]; onChange: Change }) {
  const rows = useRowKeys(from.conditions.length);
  const fields = [...new Set(sources.filter((s) => from.sources.includes(s.id)).flatMap((s) => s.fields))];
  const offered = fields.length > 0 ? fields : ['product', 'category', 'amount'];
  const set = (place: number, change: Partial<From['conditions'][number]>) =>
    onChange({ conditions: from.conditions.map((c, i) => (i === place ? { ...c, ...change } : c)) });
  return (
    <div className="grid gap-2">
      {from.conditions.length > 1 && (
        <Choice
          legend="Joined"
          value={from.join}
          choices={[
            ['all', 'all of them must hold'],
            ['any', 'one of them is enough'],
          ]}
          onChoose={(join) => onChange({ join })}
        />
      )}
      {from.conditions.map((condition, place) => (
        <div key={rows.keys[place]} className="flex flex-wrap items-center gap-1">
          <select aria-label="Field" value={condition.field} onChange={(e) => set(place, { field: e.currentTarget.value })}>
            {[...new Set([condition.field, ...offered])].map((f) => (
              <option key={f}>{f}</option>
            ))}
          </select>
          <select
            aria-label="Comparison"
            value={condition.comparison}
            onChange={(e) => set(place, { comparison: e.currentTarget.value as (typeof COMPARISONS)[number] })}
          >
            {COMPARISONS.map((c) => (
              <option key={c} value={c}>
                {comparisonWords(c)}
              </option>
            ))}
          </select>
          {condition.comparison !== 'filled' && (
            <input
              aria-label="Value"
              className="w-40"
              value={condition.value}
              onChange={(e) => set(place, { value: e.currentTarget.value })}
            />
          )}
          <button
            type="button"
            aria-label="Remove this condition"
            className="grid h-8 w-8 place-items-center"
            onClick={() => {
              rows.removed(place);
              onChange({ conditions: from.conditions.filter((_, i) => i !== place) });
            }}
          >
            <X className="h-4 w-4" />
          </button>
        </div>
      ))}
      <p>
        <Button
          onClick={() => onChange({ conditions: [...from.conditions, { field: offered[0] ?? 'product', comparison: 'is', value: '' }] })}
        >
          Add a condition
        </Button>
      </p>
    </div>
  );
}

/** The least number. */
export function LeastEditor({ from, onChange }: { from: From; onChange: Change }) {
  return (
    <div className="grid gap-2">
      <NumberField
        label="Show from"
        value={from.leastNumber}
        min={1}
        max={10_000}
        after="of what is counted"
        onValue={(leastNumber) => onChange({ leastNumber })}
      />
      <p className="text-soft">With fewer it is not shown. Tests and the reader's own events are never counted.</p>
    </div>
  );
}
