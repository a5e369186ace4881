import type { Brief } from '../callouts/api';
import { Choice, NumberField, Tick } from '../ui/Field';

/** Picture. */
export function PictureEditor({ say, onChange }: { say: Brief['say']; onChange(change: Partial<Brief['say']>): void }) {
  return (
    <Choice
      legend="Picture"
      value={say.picture}
      choices={[
        ['product', "The product's picture, or initials where it has none"],
        ['initials', "The person's initials"],
        ['none', 'None'],
      ]}
      onChoose={(picture) => onChange({ picture })}
    />
  );
}

/** Where a click leads. */
export function LinkEditor({ say, onChange }: { say: Brief['say']; onChange(change: Partial<Brief['say']>): void }) {
  return (
    <div className="grid gap-3">
      <Choice
        legend="A click leads to"
        value={say.link}
        choices={[
          ['product', "the product's page"],
          ['address', 'an address'],
          ['none', 'nowhere'],
        ]}
        onChoose={(link) => onChange({ link })}
      />
      {say.link === 'address' && (
        <label className="grid gap-1">
          Address, or a path such as /shop
          <input defaultValue={say.linkAddress} onChange={(e) => onChange({ linkAddress: e.currentTarget.value })} />
        </label>
      )}
      {say.link !== 'none' && (
        <Tick checked={say.newTab} onTick={(newTab) => onChange({ newTab })}>
          Open it in a new tab
        </Tick>
      )}
    </div>
  );
}

/** The wait. */
export function AfterEditor({ when, onChange }: { when: Brief['when']; onChange(change: Partial<Brief['when']>): void }) {
  return (
    <div className="grid gap-2">
      <NumberField
        label="Wait"
        value={when.afterSeconds}
        min={0}
        max={3600}
        after="seconds on the page; 0 is on arrival"
        onValue={(afterSeconds) => onChange({ afterSeconds })}
      />
      {when.afterSeconds === 0 && <p className="text-warn">At once can be jarring: most people have not yet read a word.</p>}
    </div>
  );
}

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
      {when.turns > 1 && (
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
          ['days', 'once in a number of days'],
        ]}
        onChoose={(unit) => onChange({ unit })}
      />
      {howOften.unit === 'days' && (
        <NumberField
          label="Every"
          value={howOften.everyDays}
          min={1}
          max={365}
          after="days, counted in hours"
          onValue={(everyDays) => onChange({ everyDays })}
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
    </div>
  );
}

/** The hush. */
export function HushEditor({ howOften, onChange }: { howOften: Brief['howOften']; onChange(change: Partial<Brief['howOften']>): void }) {
  return (
    <div className="grid gap-2">
      <NumberField
        label="After a close, hush for"
        value={howOften.hushHours}
        min={0}
        max={8760}
        after="hours"
        onValue={(hushHours) => onChange({ hushHours })}
      />
      <p className="text-soft">For that long the visitor meets nothing on the whole site but what they ask for.</p>
    </div>
  );
}

/** The side. */
export function SideEditor({ look, onChange }: { look: Brief['look']; onChange(change: Partial<Brief['look']>): void }) {
  return (
    <Choice
      legend="A slip at the bottom"
      value={look.side}
      choices={[
        ['left', 'left'],
        ['right', 'right'],
      ]}
      onChoose={(side) => onChange({ side })}
    />
  );
}

/** The two colours; the ink of the words is chosen for contrast by itself. */
export function ColoursEditor({ look, onChange }: { look: Brief['look']; onChange(change: Partial<Brief['look']>): void }) {
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
      <NumberField
        label="Stay"
        value={look.staySeconds}
        min={2}
        max={120}
        after="seconds"
        onValue={(staySeconds) => onChange({ staySeconds })}
      />
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
