import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { ControlLink } from '../callouts/ReasonLine';
import { segmentsQuery } from '../catalogue/api';
import { Refused } from '../kit/Panel';
import { PhraseMenu } from '../kit/PhraseMenu';
import { pageClock } from '../kit/time';
import type { SheetSearch } from '../runsheet/api';
import { placeOf, TICKS } from '../runsheet/axis';
import { useDesk } from '../session/desk';
import { rehearsalQuery } from './api';

/** After so long the visitor turns to leave. */
const READ_MS = 120_000;

/** A visitor's two minutes on the stage's page, with this draft on air among everything that is live. */
export function RehearsalStrip({ calloutId, version, path }: { calloutId: string; version: number; path: string }) {
  const { site } = useDesk();
  const { data: segments } = useQuery(segmentsQuery(site.id));
  const [who, setWho] = useState<SheetSearch>({});
  const { data, error } = useQuery(rehearsalQuery(site.id, calloutId, version, path, who));
  const own = data?.showings.find((s) => s.calloutId === calloutId);
  const missed = data?.notShown.find((n) => n.calloutId === calloutId && n.turn === 0);
  return (
    <section aria-label="Rehearsal" className="flex-none">
      <div className="flex flex-wrap items-baseline gap-x-2 pb-1">
        <h2 className="text-[15px] leading-6">Rehearsal</h2>
        <span className="leading-6">
          a{' '}
          <PhraseMenu
            facet="who"
            label="Rehearsed by"
            value={who.persona ?? 'new'}
            choices={[
              ['new', 'new visitor'],
              ['backAfterADay', 'visitor back after a day'],
              ['closedOne', 'visitor who closed one an hour ago'],
            ]}
            onChoose={(persona) => setWho((w) => ({ ...w, persona }))}
          />{' '}
          from{' '}
          <PhraseMenu
            facet="who"
            label="Segment"
            value={who.segment ?? ''}
            choices={[['', 'any segment'], ...(segments ?? []).map((s) => [s.id, s.name] as const)]}
            onChoose={(segment) => setWho((w) => ({ ...w, segment: segment || undefined }))}
          />{' '}
          on a{' '}
          <PhraseMenu
            facet="who"
            label="Device of the visitor"
            value={who.device ?? 'desktop'}
            choices={[
              ['desktop', 'desktop'],
              ['tablet', 'tablet'],
              ['phone', 'phone'],
            ]}
            onChoose={(device) => setWho((w) => ({ ...w, device }))}
          />
        </span>
        {own && (
          <span className="ms-auto font-semibold text-good">
            ✓ Shown {own.startMs < READ_MS ? `at ${pageClock(own.startMs)}` : 'on leaving'} for{' '}
            {Math.round((own.endMs - own.startMs) / 1000)} s
          </span>
        )}
      </div>
      <Refused error={error} />
      {data && data.assumed.length > 0 && (
        <p className="pb-1 text-[12px] leading-4 text-soft">To be in that segment the visitor is taken to be {data.assumed.join(', ')}.</p>
      )}
      {data && data.does.length > 0 && (
        <p className="pb-1 text-[12px] leading-4 text-soft">This visitor is taken to {data.does.join(', and to ')}.</p>
      )}
      {missed && (
        <p className="pb-1">
          <b className="text-bad">✕ Not shown here.</b> {missed.sentence} <ControlLink place={missed.control} calloutId={calloutId} />
        </p>
      )}
      <div className="relative h-[62px] rounded border border-ink bg-sheet">
        <div aria-hidden="true">
          {TICKS.named.slice(0, -1).map((ms) => (
            <span
              key={ms}
              className="absolute top-0 h-4 border-s border-edge ps-1 text-[12px] leading-4 text-soft"
              style={{ insetInlineStart: `${placeOf(ms)}%` }}
            >
              {pageClock(ms)}
            </span>
          ))}
        </div>
        <ul>
          {data?.showings
            .filter((s) => s.startMs < READ_MS)
            .map((s) => (
              <li
                key={`${s.calloutId}:${s.turn}`}
                className="absolute top-5"
                style={{ insetInlineStart: `${placeOf(s.startMs)}%`, width: `${Math.max(placeOf(s.endMs) - placeOf(s.startMs), 1)}%` }}
              >
                <span className="block h-9 border-s-2 border-ink ps-1">
                  <span
                    className={`block text-[12px] leading-4 whitespace-nowrap ${s.calloutId === calloutId ? 'font-semibold' : 'overflow-hidden text-ellipsis'}`}
                  >
                    {s.turn > 0 ? s.turn + 1 : s.calloutId === calloutId ? 'This one' : s.name}
                    <span className="sr-only">
                      , from {pageClock(s.startMs)} to {pageClock(s.endMs)}
                    </span>
                  </span>
                </span>
                <span
                  className={`absolute start-0 bottom-0 h-[14px] w-full border border-ink ${s.calloutId === calloutId ? 'bg-marigold' : 'bg-sheet'}`}
                />
              </li>
            ))}
        </ul>
      </div>
    </section>
  );
}
