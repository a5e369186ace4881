import { useQuery } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useId, useState } from 'react';
import { useNames } from '../brief/useNames';
import { pagesQuery } from '../catalogue/api';
import { FramedPage, type Told } from '../composer/FramedPage';
import { StageNotes } from '../composer/StageNotes';
import { Refused } from '../kit/Panel';
import { clock, day, pageClock } from '../kit/time';
import { factPhrases } from '../rehearsal/facts';
import { useDesk } from '../session/desk';
import { type PlannedPage, plannedPage } from '../visits/model';
import { useTrial } from '../visits/useTrial';
import { climbQuery, type Device, type Launcher, launcherStageQuery, type Visitor } from './api';
import { PERSONAS, type Persona } from './personas';
import { SomebodyElse } from './SomebodyElse';
import { whenWords, whoWords } from './words';

const WIDTHS: Record<Device, number> = { desktop: 1024, tablet: 768, phone: 390 };
const DEVICES = [
  ['desktop', 'Desktop'],
  ['tablet', 'Tablet'],
  ['phone', 'Phone'],
] as const;
/** Of the switch: nobody of those there. */
const ELSE = 'else';

const EVERYWHERE = { includes: [], excludes: [], groups: [], replaces: false };

/** The site's own page with this draft's launcher on it, as one visitor meets it at one moment; under it why. */
export function LauncherStage({
  launcher,
  persona,
  visitor,
  path,
  at,
  onPersona,
  onOther,
  onRecorded,
  onDevice,
  onPath,
  onAt,
}: {
  launcher: Launcher;
  /** One of those offered at once; undefined for somebody else. */
  persona: Persona | undefined;
  visitor: Visitor & { device: Device };
  path: string;
  /** Local time of the site; empty for now. */
  at: string;
  onPersona(persona: Persona | undefined): void;
  onOther(change: Visitor): void;
  onRecorded(recorded: { visitor: Visitor; pages: readonly PlannedPage[] }): void;
  onDevice(device: Device): void;
  onPath(path: string): void;
  onAt(at: string): void;
}) {
  const { site } = useDesk();
  const { device } = visitor;
  const { data: stage, error } = useQuery(launcherStageQuery(site.id, launcher.id, visitor, at));
  const { data: pages } = useQuery(pagesQuery(site.id, EVERYWHERE));
  const [{ staged, isSketch }, setTold] = useState<Told>({ staged: undefined, isSketch: false });
  const [tries, setTries] = useState(0);
  const trial = useTrial();
  const pageAt = (origin: string) => `${origin}${path}${stage?.fragment}`;
  const known = pages?.pages.map((p) => p.path) ?? [];
  return (
    <>
      <section aria-label="Stage" className="flex min-h-[300px] flex-1 flex-col gap-2">
        <div className="flex flex-wrap items-center gap-2">
          <Switch
            label="Seen by"
            value={persona?.key ?? ELSE}
            choices={[...PERSONAS.map((p) => [p.key, p.name] as const), [ELSE, 'Other'] as const]}
            onChoose={(key) => onPersona(PERSONAS.find((p) => p.key === key))}
          />
          <Switch label="Device" value={device} choices={DEVICES} onChoose={onDevice} />
        </div>
        {!persona && <SomebodyElse visitor={visitor} onChange={onOther} onRecorded={onRecorded} />}
        <div className="flex flex-wrap items-center gap-2">
          <select
            aria-label="Page on the stage"
            value={path}
            onChange={(e) => onPath(e.currentTarget.value)}
            className="min-w-0 flex-1 font-mono text-[12.5px]"
          >
            {[...new Set([path, ...known])].map((p) => (
              <option key={p}>{p}</option>
            ))}
          </select>
          <input
            type="datetime-local"
            aria-label={`At, in ${site.timeZone}; empty for now`}
            title={`At, in ${site.timeZone}; empty for now`}
            value={at}
            onChange={(e) => onAt(e.currentTarget.value)}
          />
        </div>
        <Refused error={error ?? trial.error} />
        <FramedPage
          key={tries}
          of="launcher"
          page={stage && pageAt(stage.origin)}
          sketch={stage && pageAt(stage.sketch)}
          origin={stage?.origin}
          isHeard={!!stage?.isHeard}
          path={path}
          state={`${launcher.draftVersion} ${device}`}
          width={WIDTHS[device]}
          first={{ width: 500, height: 400 }}
          className="min-h-[220px] overflow-hidden"
          onTold={setTold}
        />
        <StageNotes
          staged={staged}
          sketch={!isSketch ? undefined : stage?.isHeard ? 'silent' : 'bare'}
          path={path}
          onAgain={() => setTries(tries + 1)}
          onOpen={() => trial.mutate({ path, visitor, liftLimits: true })}
        />
      </section>
      <Why
        launcher={launcher}
        who={`${persona?.who ?? factPhrases(visitor, () => 'a callout')[0]?.words}, ${device}`}
        visitor={visitor}
        path={path}
        at={at}
      />
    </>
  );
}

/** Which greeting wins for the visitor on the stage, and by what. */
function Why({ launcher, who, visitor, path, at }: { launcher: Launcher; who: string; visitor: Visitor; path: string; at: string }) {
  const { site } = useDesk();
  const names = useNames();
  const { data: climbed } = useQuery(climbQuery(site.id, launcher.id, launcher.draftVersion, visitor, path, at));
  if (!climbed || climbed.problem) return null;
  const place = climbed.rungs.findIndex((r) => r.verdict === 'wins' || r.verdict === 'keptBack');
  const rung = climbed.rungs[place];
  const rungBrief = launcher.draft.rungs.find((r) => r.id === rung?.id);
  const open = climbed.isOpen
    ? climbed.closesAt
      ? `open until ${clock(climbed.closesAt)}`
      : 'open'
    : climbed.opensAt
      ? `closed; opens ${day(climbed.opensAt)}, ${clock(climbed.opensAt)}`
      : 'closed';
  return (
    <section aria-label="Why" className="flex-none border-t border-ink pt-2">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h2 className="text-[16px] leading-6">{rung ? `Why greeting ${place + 1}` : 'Nothing greets'}</h2>
        <span className="text-soft">
          {who}, {day(climbed.at)} {clock(climbed.at)}, {open}
        </span>
      </div>
      <dl className="grid grid-cols-[72px_minmax(0,1fr)] gap-x-3 gap-y-0.5">
        <dt className="font-semibold text-where-deep">Where</dt>
        <dd>
          <span className="font-mono text-[12.5px]">{path}</span>{' '}
          {climbed.stands ? 'is one of its pages' : (climbed.away ?? 'is none of its pages')}
        </dd>
        {rung && rungBrief && (
          <>
            <dt className="font-semibold text-who-deep">Who</dt>
            <dd>
              {who}; it asks for {whoWords(rungBrief, names)}
            </dd>
            <dt className="font-semibold text-when-deep">When</dt>
            <dd>
              {whenWords(rungBrief)}
              {rung.verdict === 'wins' ? (rung.dueMs === null ? '' : `: due at ${pageClock(rung.dueMs)}`) : `. ${rung.says}`}
            </dd>
          </>
        )}
        {!rung && climbed.stands && (
          <>
            <dt className="font-semibold text-who-deep">Ladder</dt>
            <dd>No greeting fits; each says why on the left. The button waits to be clicked.</dd>
          </>
        )}
      </dl>
      <p className="mt-1">
        <Link
          to="/rehearsal"
          search={{ visitor, pages: [plannedPage(path)], ...(at ? { at } : {}) }}
          className="font-semibold text-cobalt hover:underline"
        >
          Rehearse this visit with what is live
        </Link>
      </p>
    </section>
  );
}

function Switch<T extends string>({
  label,
  value,
  choices,
  onChoose,
}: {
  label: string;
  value: T;
  choices: readonly (readonly [T, string])[];
  onChoose(value: T): void;
}) {
  const name = useId();
  return (
    <fieldset className="flex overflow-hidden rounded border border-ink">
      <legend className="sr-only">{label}</legend>
      {choices.map(([v, words]) => (
        <label
          key={v}
          className={`flex min-h-[30px] items-center px-2 font-medium whitespace-nowrap has-focus-visible:outline-2 has-focus-visible:outline-cobalt ${v === value ? 'bg-ink text-white' : 'bg-sheet'}`}
        >
          <input type="radio" className="sr-only" name={name} checked={v === value} onChange={() => onChoose(v)} />
          {words}
        </label>
      ))}
    </fieldset>
  );
}
