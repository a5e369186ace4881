import { PointedChoice } from '../catalogue/PointedChoice';
import { Choice, NumberField, Tick } from '../kit/Field';
import { TypedInput } from '../kit/Typed';
import type { Brief, Source } from './types';

/** The turns. */
export function TurnsEditor({ when, onChange }: { when: Brief['when']; onChange(change: Partial<Brief['when']>): void }) {
  return (
    <div className="grid gap-2">
      <NumberField
        label="Tell"
        value={when.turns}
        min={1}
        max={10}
        after="events, one after another"
        onValue={(turns) => onChange({ turns })}
      />
      <NumberField
        label="Go through them"
        value={when.rounds}
        min={0}
        max={100}
        after="times; 0 is until closed or clicked"
        onValue={(rounds) => onChange({ rounds })}
      />
      {(when.turns > 1 || when.rounds !== 1) && (
        <NumberField
          label="Pause"
          value={when.turnGapSeconds}
          min={1}
          max={600}
          after="seconds between two turns"
          onValue={(turnGapSeconds) => onChange({ turnGapSeconds })}
        />
      )}
    </div>
  );
}

/** How often. */
export function RepeatEditor({ howOften, onChange }: { howOften: Brief['howOften']; onChange(change: Partial<Brief['howOften']>): void }) {
  return (
    <div className="grid gap-3">
      <Choice
        legend="For one visitor"
        value={howOften.unit}
        choices={[
          ['pageView', 'at every page view'],
          ['visit', 'once a visit'],
          ['hours', 'once every number of hours'],
          ['days', 'once in a number of days'],
          ['weeks', 'once in a number of weeks'],
          ['months', 'once in a number of months'],
          ['ever', 'once and never again'],
        ]}
        onChoose={(unit) => onChange({ unit })}
      />
      {isLong(howOften.unit) && (
        <NumberField
          label="Every"
          value={howOften.every}
          min={1}
          max={1000}
          after={`${howOften.unit}, in elapsed time from the last start`}
          onValue={(every) => onChange({ every })}
        />
      )}
      <Tick checked={howOften.mostPerWeek !== null} onTick={(on) => onChange({ mostPerWeek: on ? 4 : null })}>
        And in a limited number of visits a week
      </Tick>
      {howOften.mostPerWeek !== null && (
        <NumberField
          label="At most"
          value={howOften.mostPerWeek}
          min={1}
          max={10}
          after="visits in seven days"
          onValue={(mostPerWeek) => onChange({ mostPerWeek })}
        />
      )}
      <Tick checked={howOften.mostVisits !== null} onTick={(on) => onChange({ mostVisits: on ? 4 : null })}>
        And in a limited number of visits in all
      </Tick>
      {howOften.mostVisits !== null && (
        <NumberField
          label="At most"
          value={howOften.mostVisits}
          min={1}
          max={1000}
          after="visits"
          onValue={(mostVisits) => onChange({ mostVisits })}
        />
      )}
      <Tick checked={howOften.untilClicked} onTick={(untilClicked) => onChange({ untilClicked })}>
        Until clicked, and then no more
      </Tick>
    </div>
  );
}

/** The hush. */
export function HushEditor({ howOften, onChange }: { howOften: Brief['howOften']; onChange(change: Partial<Brief['howOften']>): void }) {
  return (
    <div className="grid gap-2">
      <NumberField
        label="After a close, keep the site quiet for"
        value={howOften.hushHours}
        min={0}
        max={8760}
        after="hours"
        onValue={(hushHours) => onChange({ hushHours })}
      />
      <p className="text-soft">A hush: for that long the visitor sees nothing on the whole site but what they ask for.</p>
    </div>
  );
}

const isLong = (unit: string) => ['hours', 'days', 'weeks', 'months'].includes(unit);

type Pause = Brief['howOften']['afterClose'];

function PauseFields({ legend, none, pause, onPause }: { legend: string; none: string; pause: Pause; onPause(pause: Pause): void }) {
  return (
    <div className="grid gap-2">
      <Choice
        legend={legend}
        value={pause.unit === 'visit' ? 'pageView' : pause.unit}
        choices={[
          ['pageView', none],
          ['hours', 'stays away for a number of hours'],
          ['days', 'stays away for a number of days'],
          ['weeks', 'stays away for a number of weeks'],
          ['months', 'stays away for a number of months'],
          ['ever', 'stays away for good'],
        ]}
        onChoose={(unit) => onPause({ ...pause, unit })}
      />
      {isLong(pause.unit) && (
        <NumberField
          label="For"
          value={pause.number}
          min={1}
          max={1000}
          after={pause.unit}
          onValue={(number) => onPause({ ...pause, number })}
        />
      )}
    </div>
  );
}

/** What happens after a close, and after success. */
export function AfterwardsEditor({
  howOften,
  sources,
  onChange,
}: {
  howOften: Brief['howOften'];
  sources: readonly Source[];
  onChange(change: Partial<Brief['howOften']>): void;
}) {
  return (
    <div className="grid gap-4">
      <PauseFields
        legend="After a close, this callout"
        none="may come back when the hush is over"
        pause={howOften.afterClose}
        onPause={(afterClose) => onChange({ afterClose })}
      />
      <fieldset className="grid gap-1">
        <legend className="mb-1 font-semibold">A success is an event of the visitor's own from</legend>
        {sources.map((source) => (
          <Tick
            key={source.id}
            checked={howOften.goals.includes(source.id)}
            onTick={(on) => onChange({ goals: on ? [...howOften.goals, source.id] : howOften.goals.filter((g) => g !== source.id) })}
          >
            {source.name}
          </Tick>
        ))}
      </fieldset>
      {howOften.goals.length > 0 && (
        <PauseFields
          legend="After a success, this callout"
          none="goes on as before"
          pause={howOften.afterSuccess}
          onPause={(afterSuccess) => onChange({ afterSuccess })}
        />
      )}
    </div>
  );
}

/** Who goes first when several are due. */
export function PriorityEditor({ brief, onChange }: { brief: Brief; onChange(brief: Brief): void }) {
  return (
    <div className="grid gap-2">
      <NumberField
        label="Priority"
        value={brief.priority}
        min={1}
        max={9}
        after="1 goes first, 9 last"
        onValue={(priority) => onChange({ ...brief, priority })}
      />
      <p className="text-soft">When several are due at once the lower number starts; the others wait for their place.</p>
    </div>
  );
}

/** The share that is deliberately shown nothing. */
export function HoldbackEditor({ brief, onChange }: { brief: Brief; onChange(brief: Brief): void }) {
  return (
    <div className="grid gap-2">
      <NumberField
        label="Hold back"
        value={brief.holdbackPercent}
        min={0}
        max={90}
        after="percent of visitors"
        onValue={(holdbackPercent) => onChange({ ...brief, holdbackPercent })}
      />
      <p className="text-soft">Picked at random once, so the groups can be compared. They see nothing of this callout.</p>
    </div>
  );
}

const SHAPES: readonly (readonly [Brief['look']['shape'], string])[] = [
  ['slip', 'slip: a small card in a corner'],
  ['ribbon', 'ribbon: from edge to edge'],
  ['drawer', 'drawer: slides in from a side'],
  ['poster', 'poster: a centred dialog'],
  ['curtain', 'curtain: over the whole page'],
  ['inset', "inset: inside the page's own content"],
  ['crawl', 'crawl: one line along an edge that turns over'],
];

/** The shape and where it stands. */
export function ShapeEditor({ look, onChange }: { look: Brief['look']; onChange(change: Partial<Brief['look']>): void }) {
  const { shape } = look;
  return (
    <div className="grid gap-3">
      <Choice legend="Shape" value={shape} choices={SHAPES} onChoose={(s) => onChange({ shape: s })} />
      {(shape === 'slip' || shape === 'drawer') && (
        <Choice
          legend="Side"
          value={look.side}
          choices={[
            ['left', 'left'],
            ['right', 'right'],
          ]}
          onChoose={(side) => onChange({ side })}
        />
      )}
      {(shape === 'slip' || shape === 'ribbon' || shape === 'crawl') && (
        <div className="flex flex-wrap gap-6">
          <Choice
            legend="Edge"
            value={look.edge}
            choices={[
              ['bottom', 'bottom'],
              ['top', 'top'],
            ]}
            onChoose={(edge) => onChange({ edge })}
          />
          <Choice
            legend="On phones"
            value={look.phoneEdge}
            choices={[
              ['bottom', 'bottom, near the thumb'],
              ['top', 'top'],
            ]}
            onChoose={(phoneEdge) => onChange({ phoneEdge })}
          />
        </div>
      )}
      {shape === 'inset' && (
        <>
          <label className="grid gap-1">
            Element, as a selector, or a marker such as [data-outcry="price"]
            <TypedInput
              className="font-mono text-[12.5px]"
              value={look.anchor}
              maxLength={300}
              onValue={(anchor) => onChange({ anchor })}
            />
          </label>
          <PointedChoice onChoose={(anchor) => onChange({ anchor })} />
          <Choice
            legend="It stands"
            value={look.inset}
            choices={[
              ['before', 'before it'],
              ['first', 'in it, first'],
              ['last', 'in it, last'],
              ['after', 'after it'],
            ]}
            onChoose={(inset) => onChange({ inset })}
          />
        </>
      )}
    </div>
  );
}

/** The devices. */
export function DevicesEditor({ who, onChange }: { who: Brief['who']; onChange(change: Partial<Brief['who']>): void }) {
  return (
    <fieldset className="grid gap-1">
      <legend className="mb-1 font-semibold">Shown on</legend>
      {(['desktop', 'tablet', 'phone'] as const).map((device) => (
        <Tick
          key={device}
          checked={!who.hiddenOn.includes(device)}
          onTick={(on) => onChange({ hiddenOn: on ? who.hiddenOn.filter((d) => d !== device) : [...who.hiddenOn, device] })}
        >
          {device}s
        </Tick>
      ))}
    </fieldset>
  );
}

/** Whether it takes the place of wider ones. */
export function ReplacesEditor({ where, onChange }: { where: Brief['where']; onChange(change: Partial<Brief['where']>): void }) {
  return (
    <Choice
      legend="On its pages"
      value={where.replaces ? 'in' : 'beside'}
      choices={[
        ['beside', 'it shows together with site-wide callouts'],
        ['in', 'it takes the place of those of its kind whose pages are wider'],
      ]}
      onChoose={(v) => onChange({ replaces: v === 'in' })}
    />
  );
}

/** The two colours; the ink of the words is chosen for contrast by itself. */
export function ColoursEditor({
  look,
  onChange,
}: {
  look: Pick<Brief['look'], 'band' | 'ground'>;
  onChange(change: Partial<Pick<Brief['look'], 'band' | 'ground'>>): void;
}) {
  return (
    <div className="grid gap-3">
      {(['band', 'ground'] as const).map((which) => (
        <label key={which} className="flex items-center gap-2">
          <span className="w-16">{which === 'band' ? 'Band' : 'Ground'}</span>
          <input
            type="color"
            value={/^#[0-9a-f]{6}$/i.test(look[which]) ? look[which] : '#000000'}
            aria-label={`${which}, by picker`}
            onChange={(e) => onChange({ [which]: e.currentTarget.value.toUpperCase() })}
          />
          <input
            className="w-28 font-mono text-[12.5px]"
            value={look[which]}
            aria-label={`${which}, by code`}
            onChange={(e) => onChange({ [which]: e.currentTarget.value })}
          />
        </label>
      ))}
      <p className="text-soft">The words are set in whichever ink reads well on the ground (4.5:1 at least).</p>
    </div>
  );
}

/** The stay. */
export function StayEditor({ look, onChange }: { look: Brief['look']; onChange(change: Partial<Brief['look']>): void }) {
  return (
    <div className="grid gap-2">
      <Tick checked={look.staySeconds === null} onTick={(on) => onChange({ staySeconds: on ? null : 7 })}>
        Until closed
      </Tick>
      {look.staySeconds !== null && (
        <NumberField
          label="Stay"
          value={look.staySeconds}
          min={2}
          max={120}
          after="seconds"
          onValue={(staySeconds) => onChange({ staySeconds })}
        />
      )}
      <p className="text-soft">Longer texts add a second for each 40 characters over 80; pointer or focus holds it.</p>
    </div>
  );
}

/** The close mark. */
export function CloseEditor({ look, onChange }: { look: Brief['look']; onChange(change: Partial<Brief['look']>): void }) {
  return (
    <Tick checked={look.closeMark} onTick={(closeMark) => onChange({ closeMark })}>
      Visitors get a close mark
    </Tick>
  );
}
