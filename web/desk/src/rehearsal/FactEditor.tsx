import { useQuery } from '@tanstack/react-query';
import { calloutsQuery, segmentsQuery } from '../catalogue/api';
import { Choice, NumberField, SelectField, TextField, Tick } from '../kit/Field';
import { LANGUAGES, languageName } from '../kit/languages';
import { Fetched } from '../kit/Notice';
import { useRowKeys } from '../kit/useRowKeys';
import { useDesk } from '../session/desk';
import type { Visitor } from '../visits/model';
import type { FactKey } from './facts';

type Change = (change: Visitor) => void;

/** The control of one of a visitor's facts. */
export function FactEditor({ fact, visitor, onChange }: { fact: FactKey; visitor: Visitor; onChange: Change }) {
  switch (fact) {
    case 'visits':
      return <Visits visitor={visitor} onChange={onChange} />;
    case 'device':
      return (
        <Choice
          legend="They hold a"
          value={visitor.device ?? 'desktop'}
          choices={[
            ['desktop', 'desktop'],
            ['tablet', 'tablet'],
            ['phone', 'phone'],
          ]}
          onChoose={(device) => onChange({ device })}
        />
      );
    case 'language':
      return (
        <SelectField
          label="Language"
          value={visitor.languages?.[0] ?? ''}
          choices={[['', "the site's own"], ...LANGUAGES.map((tag) => [tag, languageName(tag)] as const)]}
          onChoose={(tag) => onChange({ languages: tag ? [tag] : [] })}
        />
      );
    case 'place':
      return (
        <div className="grid gap-3">
          <TextField label="Country" value={visitor.country ?? ''} onChange={(e) => onChange({ country: e.currentTarget.value })} />
          <TextField label="Region" value={visitor.region ?? ''} onChange={(e) => onChange({ region: e.currentTarget.value })} />
          <TextField label="City" value={visitor.city ?? ''} onChange={(e) => onChange({ city: e.currentTarget.value })} />
        </div>
      );
    case 'cameBy':
      return <CameBy visitor={visitor} onChange={onChange} />;
    case 'did':
      return <Did visitor={visitor} onChange={onChange} />;
    case 'identity':
      return <Identity visitor={visitor} onChange={onChange} />;
    case 'clock':
      return (
        <SelectField
          label="Hour on their clock"
          value={visitor.localHour === null || visitor.localHour === undefined ? '' : String(visitor.localHour)}
          choices={[['', 'as on the clock of the site'], ...Array.from({ length: 24 }, (_, h) => [String(h), `${h}:00`] as const)]}
          onChoose={(hour) => onChange({ localHour: hour === '' ? null : Number(hour) })}
        />
      );
  }
}

function Visits({ visitor, onChange }: { visitor: Visitor; onChange: Change }) {
  const { site } = useDesk();
  const { data: callouts } = useQuery(calloutsQuery(site.id));
  const live = (callouts ?? []).filter((c) => c.state === 'live');
  const isReturning = (visitor.visitNumber ?? 1) > 1 || visitor.metEverything === true;
  const toggle = (list: readonly string[] | undefined, id: string, on: boolean) =>
    on ? [...(list ?? []), id] : (list ?? []).filter((x) => x !== id);
  return (
    <div className="grid gap-3">
      <NumberField
        label="This is visit"
        min={1}
        max={10000}
        value={visitor.visitNumber ?? 1}
        onValue={(visitNumber) => onChange({ visitNumber })}
      />
      <NumberField
        label="Pages seen in it before"
        min={0}
        max={10000}
        value={visitor.pagesBefore ?? 0}
        onValue={(pagesBefore) => onChange({ pagesBefore })}
      />
      {isReturning && (
        <>
          <NumberField
            label="Last here"
            min={1}
            max={17520}
            value={visitor.hoursSinceLastVisit ?? 24}
            onValue={(hoursSinceLastVisit) => onChange({ hoursSinceLastVisit })}
            after="hours ago"
          />
          <Tick checked={visitor.metEverything ?? false} onTick={(metEverything) => onChange({ metEverything })}>
            met every callout then
          </Tick>
          {live.length > 0 && (
            <table className="w-full text-[12px]">
              <caption className="sr-only">What was met and closed in the visit before</caption>
              <thead>
                <tr>
                  <th scope="col" className="text-start font-semibold">
                    In that visit
                  </th>
                  <th scope="col" className="w-14 font-semibold">
                    met
                  </th>
                  <th scope="col" className="w-14 font-semibold">
                    closed
                  </th>
                </tr>
              </thead>
              <tbody>
                {live.map((c) => (
                  <tr key={c.id} className="border-t border-hair">
                    <td className="py-1">{c.name}</td>
                    <td className="text-center">
                      <input
                        type="checkbox"
                        aria-label={`Met ${c.name}`}
                        checked={visitor.metEverything || (visitor.saw ?? []).includes(c.id)}
                        disabled={visitor.metEverything === true}
                        onChange={(e) => onChange({ saw: toggle(visitor.saw, c.id, e.currentTarget.checked) })}
                      />
                    </td>
                    <td className="text-center">
                      <input
                        type="checkbox"
                        aria-label={`Closed ${c.name}`}
                        checked={(visitor.closed ?? []).includes(c.id)}
                        onChange={(e) => onChange({ closed: toggle(visitor.closed, c.id, e.currentTarget.checked) })}
                      />
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </>
      )}
    </div>
  );
}

const CAMPAIGN = ['source', 'medium', 'campaign'] as const;

function CameBy({ visitor, onChange }: { visitor: Visitor; onChange: Change }) {
  return (
    <div className="grid gap-3">
      <TextField
        label="Host that led here"
        placeholder="letters.example"
        value={visitor.referrer ?? ''}
        onText={(referrer) => onChange({ referrer })}
      />
      {CAMPAIGN.map((key) => (
        <TextField
          key={key}
          label={`Campaign: ${key}`}
          value={visitor.campaign?.[key] ?? ''}
          onText={(value) => {
            const { [key]: _, ...rest } = visitor.campaign ?? {};
            onChange({ campaign: value ? { ...rest, [key]: value } : rest });
          }}
        />
      ))}
      <TextField
        label="First page of the visit"
        hint="Only where pages were seen in it before; otherwise it is the first page of the journey."
        placeholder="/journal/first-pots"
        value={visitor.entryPage ?? ''}
        onText={(entryPage) => onChange({ entryPage })}
      />
    </div>
  );
}

function Did({ visitor, onChange }: { visitor: Visitor; onChange: Change }) {
  const pastEvents = visitor.pastEvents ?? [];
  const rows = useRowKeys(pastEvents.length);
  const put = (at: number, change: Partial<(typeof pastEvents)[number]>) =>
    onChange({ pastEvents: pastEvents.map((d, i) => (i === at ? { ...d, ...change } : d)) });
  return (
    <div className="grid gap-3">
      {pastEvents.map((happened, i) => (
        <fieldset key={rows.keys[i]} className="grid gap-2 border-b border-hair pb-2">
          <legend className="sr-only">Event {i + 1}</legend>
          <SelectField
            label="Did what"
            hideLabel
            value={happened.kind === 'purchase' ? 'purchase' : 'signUp'}
            choices={[
              ['purchase', 'bought'],
              ['signUp', 'sent a form'],
            ]}
            onChoose={(kind) => put(i, { kind })}
          />
          {happened.kind === 'purchase' && (
            <TextField label="Product" value={happened.product ?? ''} onChange={(e) => put(i, { product: e.currentTarget.value })} />
          )}
          <NumberField label="Days ago" min={0} max={730} value={happened.daysAgo ?? 0} onValue={(daysAgo) => put(i, { daysAgo })} />
          <button
            type="button"
            className="justify-self-start font-semibold text-cobalt hover:underline"
            onClick={() => {
              rows.removed(i);
              onChange({ pastEvents: pastEvents.filter((_, at) => at !== i) });
            }}
          >
            Remove
          </button>
        </fieldset>
      ))}
      {pastEvents.length === 0 && <p className="text-soft">Nothing yet: no purchase, no form.</p>}
      <button
        type="button"
        className="justify-self-start font-semibold text-cobalt hover:underline"
        onClick={() => onChange({ pastEvents: [...pastEvents, { kind: 'purchase', source: null, product: '', category: '', daysAgo: 0 }] })}
      >
        Add something they did
      </button>
    </div>
  );
}

function Identity({ visitor, onChange }: { visitor: Visitor; onChange: Change }) {
  return (
    <div className="grid gap-3">
      <Tick checked={visitor.isKnown ?? false} onTick={(isKnown) => onChange({ isKnown })}>
        the page has said who it is
      </Tick>
      <Tick checked={visitor.agreed ?? true} onTick={(agreed) => onChange({ agreed })}>
        agreed to be addressed and remembered
      </Tick>
      <TextField
        label="Attributes"
        hint="As name=value, with commas between them."
        defaultValue={Object.entries(visitor.attributes ?? {})
          .map(([k, v]) => `${k}=${v}`)
          .join(', ')}
        onChange={(e) => onChange({ attributes: pairsOf(e.currentTarget.value) })}
      />
      <TextField
        label="Tags"
        hint="With commas between them."
        defaultValue={(visitor.tags ?? []).join(', ')}
        onChange={(e) =>
          onChange({
            tags: e.currentTarget.value
              .split(',')
              .map((t) => t.trim())
              .filter(Boolean),
          })
        }
      />
    </div>
  );
}

const pairsOf = (typed: string) =>
  Object.fromEntries(
    typed
      .split(',')
      .map((pair) => pair.split('=').map((p) => p.trim()))
      .filter(([key, value]) => key && value) as [string, string][],
  );

/** Makes the visitor one of a segment. */
export function SegmentChoice({ onChoose }: { onChoose(segment: string): void }) {
  const { site } = useDesk();
  const segments = useQuery(segmentsQuery(site.id));
  return (
    <Fetched query={segments} waiting="Fetching the segments">
      {(all) =>
        all.length === 0 ? (
          <p className="text-soft">There is no segment yet. Make one under Audience.</p>
        ) : (
          <ul>
            {all.map((s) => (
              <li key={s.id}>
                <button type="button" className="min-h-8 w-full rounded px-2 text-start hover:bg-selectwash" onClick={() => onChoose(s.id)}>
                  {s.name}
                </button>
              </li>
            ))}
          </ul>
        )
      }
    </Fetched>
  );
}
