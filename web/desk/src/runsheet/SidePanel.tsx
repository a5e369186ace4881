import { useQuery } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { X } from 'lucide-react';
import { useDesk } from '../app/desk';
import { calloutQuery } from '../callouts/api';
import { BriefLine } from '../callouts/BriefLine';
import { pageClock } from '../lib/time';
import { StateSign } from '../ui/StateSign';
import type { Lane, NotShown } from './api';

/** Beside the lanes: one block or one lane, with what is not shown there and why. */
export function SidePanel({ lane, block, onClose }: { lane: Lane; block: string | undefined; onClose(): void }) {
  return (
    <aside
      aria-label={block ? 'The chosen callout' : `On ${lane.name}`}
      className="flex w-[316px] flex-none flex-col overflow-auto border-s border-ink bg-sheet max-lg:absolute max-lg:inset-y-0 max-lg:end-0 max-lg:z-20 max-lg:shadow-lg"
    >
      <button
        type="button"
        onClick={onClose}
        aria-label="Close this panel"
        className="absolute end-3 top-3 grid h-8 w-8 place-items-center"
      >
        <X className="h-4 w-4" />
      </button>
      {block ? <ChosenBlock lane={lane} calloutId={block} /> : <ChosenLane lane={lane} />}
      <NotShownHere lane={lane} block={block} />
    </aside>
  );
}

function ChosenBlock({ lane, calloutId }: { lane: Lane; calloutId: string }) {
  const { site } = useDesk();
  const { data: callout } = useQuery(calloutQuery(site.id, calloutId));
  const shown = lane.showings.filter((s) => s.calloutId === calloutId);
  const first = shown[0];
  const share = first && lane.stillThere[Math.min(24, Math.floor(first.startMs / 5_000))];
  if (!callout) return <p className="p-4 text-soft">Fetching the brief</p>;
  return (
    <section className="p-4 pb-3">
      <h2 className="pe-9 text-[17px] leading-6">{callout.name}</h2>
      <p className="mt-0.5 text-[12px] text-soft">
        <StateSign state={callout.state} />, revision {callout.revision}
      </p>
      {first && (
        <dl className="my-3 flex gap-5 border-y border-hair py-2">
          <Figure value={pageClock(first.startMs)} words="appears" />
          <Figure value={`${Math.round((first.endMs - first.startMs) / 1000)} s`} words="stays" />
          {share !== undefined && share > 0 && <Figure value={`${Math.round(share * 100)} %`} words="still here then" />}
        </dl>
      )}
      {first && <p className="mb-3 text-soft">Would say: {first.says}</p>}
      <BriefLine brief={callout.live ?? callout.draft} className="font-display text-[15px] leading-[26px]" />
      <p className="mt-4">
        <Link
          to="/callouts/$calloutId"
          params={{ calloutId }}
          className="inline-flex min-h-8 items-center rounded bg-ink px-3 font-semibold text-white"
        >
          Open brief
        </Link>
      </p>
    </section>
  );
}

function Figure({ value, words }: { value: string; words: string }) {
  return (
    <div>
      <dd className="font-display text-[18px] leading-6 font-semibold">{value}</dd>
      <dt className="text-[12px] text-soft">{words}</dt>
    </div>
  );
}

function ChosenLane({ lane }: { lane: Lane }) {
  return (
    <section className="p-4 pb-3">
      <h2 className="pe-9 text-[17px] leading-6">{lane.name}</h2>
      <p className="mt-0.5 text-soft">
        Rehearsed on <code className="font-mono text-[12.5px]">{lane.path}</code>
      </p>
      <ol className="mt-3">
        {lane.showings.map((s) => (
          <li key={`${s.calloutId}:${s.turn}`} className="flex gap-3 border-t border-hair py-1.5">
            <span className="w-9 flex-none font-semibold">{pageClock(s.startMs)}</span>
            <span>{s.says}</span>
          </li>
        ))}
      </ol>
    </section>
  );
}

function NotShownHere({ lane, block }: { lane: Lane; block: string | undefined }) {
  // The chosen block's own reason comes first; further turns only tell of themselves.
  const firsts = lane.notShown.filter((n) => n.turn === 0 || n.isClash);
  const sorted = [...firsts].sort((a, b) => Number(b.calloutId === block) - Number(a.calloutId === block));
  if (sorted.length === 0) return null;
  return (
    <section className="border-t border-ink">
      <h3 className="bg-paper px-4 py-2 font-sans text-[13px] leading-5">
        Not shown here <span className="font-normal text-soft">{sorted.length}</span>
      </h3>
      <ul>
        {sorted.map((n) => (
          <Missing key={`${n.calloutId}:${n.turn}`} notShown={n} />
        ))}
      </ul>
    </section>
  );
}

function Missing({ notShown }: { notShown: NotShown }) {
  return (
    <li className={`border-t border-hair px-4 py-2.5 ${notShown.isClash ? 'border-s-[3px] border-s-bad' : ''}`}>
      <Link to="/callouts/$calloutId" params={{ calloutId: notShown.calloutId }} className="font-semibold hover:underline">
        {notShown.name}
        {notShown.turn > 0 && `, turn ${notShown.turn + 1}`}
      </Link>
      <p className="text-[12px] leading-4 text-soft">{notShown.sentence}</p>
    </li>
  );
}
