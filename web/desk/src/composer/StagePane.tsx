import { useQuery } from '@tanstack/react-query';
import { useEffect, useId, useRef, useState } from 'react';
import { pagesQuery } from '../catalogue/api';
import { languageName } from '../lib/languages';
import { useDesk } from '../session/desk';
import { useTrial } from '../visits/useTrial';
import { stageQuery } from './api';

const DEVICES = { Desktop: 1024, Tablet: 768, Phone: 390 } as const;
type Device = keyof typeof DEVICES;
const NAMES: readonly Device[] = ['Desktop', 'Tablet', 'Phone'];

/** Every page, whatever the brief says: where the brief leaves a page out, the stage says so. */
const EVERYWHERE = { includes: [], excludes: [], groups: [], replaces: false };

/**
 * The stage: the site's own page in a frame, with the real snippet rendering this draft.
 *
 * `version` is the saved draft's: when it grows, the page is told and asks for its plan again.
 */
export function StagePane({
  calloutId,
  version,
  path,
  languages,
  onPath,
}: {
  calloutId: string;
  version: number;
  path: string;
  /** Languages in which the draft has words of its own, besides the site's. */
  languages: readonly string[];
  onPath(path: string): void;
}) {
  const [language, setLanguage] = useState('');
  const { site } = useDesk();
  const { data: stage } = useQuery(stageQuery(site.id, calloutId, language));
  const { data: pages } = useQuery(pagesQuery(site.id, EVERYWHERE));
  const [device, setDevice] = useState<Device>('Desktop');
  const [full, setFull] = useState(false);
  const [note, setNote] = useState<string | null | undefined>();
  const [answered, setAnswered] = useState(false);
  const frame = useRef<HTMLIFrameElement>(null);
  const box = useRef<HTMLDivElement>(null);
  // The draft's version that the page has been asked to show; the first it fetches by itself.
  const told = useRef(version);
  const [room, setRoom] = useState({ width: 660, height: 330 });
  const trial = useTrial();

  useEffect(() => {
    if (!box.current) return;
    const observer = new ResizeObserver(([entry]) => entry && setRoom(entry.contentRect));
    observer.observe(box.current);
    return () => observer.disconnect();
  }, []);

  useEffect(() => {
    const listen = (event: MessageEvent) => {
      if (event.origin !== stage?.origin || event.source !== frame.current?.contentWindow || event.data?.outcry !== 'staged') return;
      setAnswered(true);
      setNote(event.data.note);
    };
    window.addEventListener('message', listen);
    return () => window.removeEventListener('message', listen);
  }, [stage]);

  useEffect(() => {
    if (!stage || !answered || version === told.current) return;
    told.current = version;
    frame.current?.contentWindow?.postMessage({ outcry: 'stage' }, stage.origin);
  }, [stage, version, answered]);

  const width = DEVICES[device];
  const scale = full ? 1 : Math.min(1, room.width / width);
  const known = pages?.pages.map((p) => p.path) ?? [];
  return (
    <section aria-label="Stage" className="flex min-h-[240px] flex-1 flex-col gap-2 has-[[role=status]]:min-h-[300px]">
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
        <Switch label="Size" value={full ? '100 %' : 'Fit'} choices={['Fit', '100 %'] as const} onChoose={(v) => setFull(v !== 'Fit')} />
      </div>
      <div ref={box} className="relative min-h-[180px] flex-1 overflow-auto rounded border border-ink bg-sheet">
        {stage && (
          <iframe
            ref={frame}
            title={`This draft on ${path}`}
            // The page may run and keep its own things, and must not be able to take the desk's place.
            sandbox="allow-scripts allow-same-origin allow-forms allow-popups allow-popups-to-escape-sandbox allow-modals"
            // A new page needs a new frame: a mere change behind the "#" would not load it.
            key={`${path}:${stage.fragment}`}
            src={`${stage.origin}${path}${stage.fragment}`}
            className="absolute start-1/2 top-0 origin-top-left border-0 bg-sheet"
            style={{
              width,
              height: full ? Math.max(room.height, 640) : room.height / scale,
              transform: `scale(${scale})`,
              insetInlineStart: Math.max(0, (room.width - width * scale) / 2),
            }}
          />
        )}
      </div>
      {note && (
        <p role="status" className="border-s-4 border-warn bg-goldwash px-3 py-1.5">
          <b>Nothing on the stage.</b> {note}
        </p>
      )}
      {!answered && stage && <NotHeard onOpen={() => trial.mutate({ path, visitor: {}, draft: calloutId, liftLimits: true })} />}
    </section>
  );
}

function NotHeard({ onOpen }: { onOpen(): void }) {
  const [late, setLate] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setLate(true), 5_000);
    return () => clearTimeout(timer);
  }, []);
  if (!late) return null;
  return (
    <p role="status" className="border-s-4 border-warn bg-goldwash px-3 py-1.5">
      <b>The page has not answered.</b> It may lack the snippet, or forbid being shown in a frame.{' '}
      <button type="button" className="font-semibold text-cobalt hover:underline" onClick={onOpen}>
        Open it in a tab of its own
      </button>{' '}
      with this draft on it.
    </p>
  );
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
