import { useQuery } from '@tanstack/react-query';
import { useId, useState } from 'react';
import { pagesQuery } from '../catalogue/api';
import { languageName } from '../kit/languages';
import { Refused } from '../kit/Panel';
import { useDesk } from '../session/desk';
import { useTrial } from '../visits/useTrial';
import { stageQuery } from './api';
import { FramedPage, type Told } from './FramedPage';
import { StageNotes } from './StageNotes';

const DEVICES = { Desktop: 1024, Tablet: 768, Phone: 390 } as const;
type Device = keyof typeof DEVICES;
const NAMES: readonly Device[] = ['Desktop', 'Tablet', 'Phone'];

/** What is given after a yes: a mail that was written, a code, a file, or thanks alone. */
export type AfterYes = 'wrote' | 'code' | 'file' | 'thanks';

const FACES = ['Asking', 'After a yes', 'Both', 'The mail'] as const;
type Face = (typeof FACES)[number];
type OnPage = 'Asking' | 'After a yes';

/** Every page, whatever the brief says: where the brief leaves a page out, the stage says so. */
const EVERYWHERE = { includes: [], excludes: [], groups: [], replaces: false };

/**
 * The stage: the site's own page in a frame, with the real snippet rendering this draft; a neutral sketch of a page
 * where the site has no snippet yet or cannot be framed.
 *
 * `version` is the saved draft's: when it grows, the page is told and asks for its plan again.
 */
export function StagePane({
  calloutId,
  version,
  path,
  languages,
  place,
  after,
  onPath,
}: {
  calloutId: string;
  version: number;
  path: string;
  /** Languages in which the draft has words of its own, besides the site's. */
  languages: readonly string[];
  /** Selector of the element by which an inset stands; empty for anything else. */
  place: string;
  /** Of a prompt: what stands in its face after a yes; undefined for anything else. */
  after?: AfterYes | undefined;
  onPath(path: string): void;
}) {
  const [language, setLanguage] = useState('');
  const { site } = useDesk();
  const { data: stage, error } = useQuery(stageQuery(site.id, calloutId, language));
  const { data: pages } = useQuery(pagesQuery(site.id, EVERYWHERE));
  const [device, setDevice] = useState<Device>('Desktop');
  const [full, setFull] = useState(false);
  const [shown, setShown] = useState<Face>('Asking');
  const [{ staged, isSketch }, setTold] = useState<Told>({ staged: undefined, isSketch: false });
  const [tries, setTries] = useState(0);
  const trial = useTrial();
  const partOf = (face: OnPage) => (face === 'After a yes' ? `&outcry-face=${after}` : '');
  const choices = after === 'wrote' ? FACES : FACES.slice(0, 3);
  // Whoever looked at the mail and then chose to confirm nothing looks at the page again.
  const face = choices.includes(shown) ? shown : 'Asking';
  const faces: readonly OnPage[] = !after ? ['Asking'] : face === 'Both' ? ['Asking', 'After a yes'] : face === 'The mail' ? [] : [face];
  const known = pages?.pages.map((p) => p.path) ?? [];
  return (
    <section
      aria-label="Stage"
      className={`flex flex-1 flex-col gap-2 ${faces.length === 0 ? 'min-h-[460px]' : after && faces.length === 1 ? 'min-h-[420px]' : 'min-h-[240px] has-[[role=status]]:min-h-[320px]'}`}
    >
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
        <Switch<Device> label="Device" value={device} choices={NAMES} onChoose={setDevice} />
        {languages.length > 0 && (
          <Switch
            label="Language"
            value={language || site.language}
            words={languageName}
            choices={[site.language, ...languages]}
            onChoose={(v) => setLanguage(v === site.language ? '' : v)}
          />
        )}
        {after && <Switch<Face> label="Face" value={face} choices={choices} onChoose={setShown} />}
        <Switch label="Size" value={full ? '100 %' : 'Fit'} choices={['Fit', '100 %'] as const} onChoose={(v) => setFull(v !== 'Fit')} />
      </div>
      <Refused error={error ?? trial.error} />
      <div className="flex min-h-[180px] flex-1 gap-2.5">
        {face === 'The mail' && <MailFrame calloutId={calloutId} language={language} version={version} />}
        {faces.map((face) => (
          <figure key={`${face} ${tries}`} className="flex min-w-0 flex-1 flex-col gap-1">
            <FramedPage
              of={after ? `draft, ${face.toLowerCase()},` : 'draft'}
              page={stage && `${stage.origin}${path}${stage.fragment}${partOf(face)}`}
              sketch={stage && sketchOf(stage, path, place) + partOf(face)}
              origin={stage?.origin}
              isHeard={!!stage?.isHeard}
              path={path}
              state={`${version} ${DEVICES[device]}`}
              width={DEVICES[device]}
              full={full}
              first={{ width: 660, height: 330 }}
              className="min-h-0 overflow-auto"
              onTold={setTold}
            />
            {after && <figcaption className="text-[12px] leading-4 font-semibold">{face}</figcaption>}
          </figure>
        ))}
      </div>
      {faces.length > 0 && (
        <StageNotes
          staged={staged}
          sketch={!isSketch ? undefined : stage?.isHeard ? 'silent' : 'bare'}
          path={path}
          onAgain={() => setTries(tries + 1)}
          onOpen={() => trial.mutate({ path, visitor: {}, draft: calloutId, liftLimits: true })}
        />
      )}
    </section>
  );
}

/** The mail with which the draft asks to confirm, as it comes. */
function MailFrame({ calloutId, language, version }: { calloutId: string; language: string; version: number }) {
  const { site } = useDesk();
  return (
    <figure className="flex min-w-0 flex-1 flex-col gap-1">
      <iframe
        key={version}
        title="The mail that asks to confirm"
        sandbox=""
        src={`/api/sites/${site.id}/callouts/${calloutId}/mail?language=${encodeURIComponent(language)}`}
        className="min-h-0 w-full flex-1 rounded border border-ink bg-sheet"
      />
      <figcaption className="text-[12px] leading-4 font-semibold">The mail, with its subject above</figcaption>
    </figure>
  );
}

function sketchOf({ sketch, fragment }: { sketch: string; fragment: string }, path: string, place: string): string {
  const joint = path.includes('?') ? '&' : '?';
  return `${sketch}${path}${place && `${joint}outcry-place=${encodeURIComponent(place)}`}${fragment}`;
}

function Switch<T extends string>({
  label,
  value,
  choices,
  words,
  onChoose,
}: {
  label: string;
  value: T;
  choices: readonly T[];
  /** How a choice is said, where not by itself. */
  words?: (value: T) => string;
  onChoose(value: T): void;
}) {
  const name = useId();
  return (
    <fieldset className="flex overflow-hidden rounded border border-ink">
      <legend className="sr-only">{label}</legend>
      {choices.map((choice) => (
        <label
          key={choice}
          className={`flex min-h-[30px] items-center px-2.5 font-medium has-focus-visible:outline-2 has-focus-visible:outline-cobalt ${choice === value ? 'bg-ink text-white' : 'bg-sheet'}`}
        >
          <input type="radio" className="sr-only" name={name} checked={choice === value} onChange={() => onChoose(choice)} />
          {words ? words(choice) : choice}
        </label>
      ))}
    </fieldset>
  );
}
