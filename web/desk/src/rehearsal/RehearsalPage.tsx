import { useMutation, useQuery } from '@tanstack/react-query';
import { Link, useNavigate, useSearch } from '@tanstack/react-router';
import { useState } from 'react';
import { calloutsQuery } from '../catalogue/api';
import { Button } from '../kit/Button';
import { Failed, Waiting } from '../kit/Notice';
import { Refused } from '../kit/Panel';
import { PhrasePopover } from '../kit/PhrasePopover';
import { SheetViews } from '../kit/SheetViews';
import { pageClock } from '../kit/time';
import { useRowKeys } from '../kit/useRowKeys';
import { useDesk } from '../session/desk';
import { useTitle } from '../session/useTitle';
import { castVisitor, fetchJourney, playQuery } from '../visits/api';
import { localNow, sayAt } from '../visits/asOf';
import { type Journey, type PlannedPage, plannedPage, sameVisitor, trimmed, type Visitor } from '../visits/model';
import { useTrial } from '../visits/useTrial';
import { FactEditor, SegmentChoice } from './FactEditor';
import { factPhrases } from './facts';
import { PageList, PageSentence } from './JourneyEditor';
import { PageTimeline } from './PageTimeline';
import { RecordedChoice } from './RecordedChoice';

/** A visit imagined from page to page: who comes, what they do, what they meet, and why nothing else. */
export function RehearsalPage() {
  const { site } = useDesk();
  const search = useSearch({ from: '/rehearsal' });
  const navigate = useNavigate({ from: '/rehearsal' });
  useTitle('Rehearsal');
  const { data: callouts } = useQuery(calloutsQuery(site.id));
  const journey: Journey = {
    visitor: search.visitor ?? {},
    pages: search.pages ?? [plannedPage('/')],
    at: search.at,
    draft: search.draft,
  };
  /** The visitor as before a fact was changed, against whom the change is told. */
  const [before, setBefore] = useState<Visitor>();
  const [open, setOpen] = useState<number>();
  const [assumed, setAssumed] = useState<readonly string[]>([]);
  const played = useQuery(playQuery(site.id, journey, before));
  const trial = useTrial();
  const rows = useRowKeys(journey.pages.length);
  const nameOf = (id: string) => callouts?.find((c) => c.id === id)?.name ?? 'a callout';

  const put = (change: Partial<Journey>) =>
    void navigate({
      search: (was) => ({ ...was, ...change, visitor: change.visitor ? trimmed(change.visitor) : was.visitor }),
      replace: true,
    });
  function setFact(change: Visitor) {
    setBefore((known) => known ?? journey.visitor);
    setAssumed([]);
    // On top of what the address says when it is changed: of two quick ticks neither may be lost.
    void navigate({ search: (was) => ({ ...was, visitor: trimmed({ ...was.visitor, ...change }) }), replace: true });
  }
  const setPages = (pages: PlannedPage[]) => put({ pages });
  const cast = useMutation({
    mutationFn: (segment: string) => castVisitor(site.id, segment, journey.visitor),
    onSuccess: (found) => {
      setBefore((known) => known ?? journey.visitor);
      setAssumed(found.assumed.length > 0 ? found.assumed : ['in it already']);
      put({ visitor: found.visitor });
    },
  });
  const recorded = useMutation({
    mutationFn: ({ id, number }: { id: string; number: number }) => fetchJourney(site.id, id, number),
    onSuccess: (visit) => {
      setBefore(undefined);
      setAssumed([]);
      put({ visitor: visit.visitor, pages: visit.pages });
    },
  });
  const isChanged = before !== undefined && !sameVisitor(before, journey.visitor);
  const total = played.data?.pages.reduce((sum, p) => sum + p.showings.filter((s) => s.turn === 0).length, 0) ?? 0;

  return (
    <div className="flex h-full flex-col">
      <div className="flex min-h-14 flex-none flex-wrap items-start gap-x-5 gap-y-2 border-b border-ink px-4 py-2">
        <SheetViews open="/rehearsal" />
        <p className="min-w-[280px] flex-1 font-display text-[16px] leading-[28px]">
          {factPhrases(journey.visitor, nameOf).map((phrase) => (
            <span key={phrase.key}>
              {phrase.before}
              <PhrasePopover facet="who" label={phrase.label} words={phrase.words}>
                {() => <FactEditor fact={phrase.key} visitor={journey.visitor} onChange={setFact} />}
              </PhrasePopover>
            </span>
          ))}
          , the visit begins{' '}
          <PhrasePopover facet="when" label="When the visit begins" words={sayAt(journey.at)}>
            {(close) => (
              <div className="grid gap-3">
                <label className="grid gap-1">
                  <span className="font-semibold">On the clock of {site.timeZone}</span>
                  <input
                    type="datetime-local"
                    value={journey.at ?? localNow(site.timeZone)}
                    onChange={(e) => e.currentTarget.value && put({ at: e.currentTarget.value })}
                  />
                </label>
                <p>
                  <Button
                    onClick={() => {
                      put({ at: undefined });
                      close();
                    }}
                  >
                    Now
                  </Button>
                </p>
              </div>
            )}
          </PhrasePopover>
          .
        </p>
        <span className="flex flex-wrap items-center gap-2">
          <PhrasePopover facet="who" label="Someone from a segment" words="from a segment">
            {(close) => (
              <SegmentChoice
                onChoose={(segment) => {
                  cast.mutate(segment);
                  close();
                }}
              />
            )}
          </PhrasePopover>
          <PhrasePopover facet="from" label="A recorded visit" words="a recorded visit">
            {(close) => (
              <RecordedChoice
                onChoose={(id, number) => {
                  recorded.mutate({ id, number });
                  close();
                }}
              />
            )}
          </PhrasePopover>
          <Button
            kind="primary"
            disabled={trial.isPending || journey.pages.length === 0}
            onClick={() =>
              trial.mutate({ path: journey.pages[0]?.path ?? '/', visitor: trimmed(journey.visitor), draft: journey.draft ?? null })
            }
          >
            Start a trial visit
          </Button>
        </span>
      </div>
      {(isChanged || assumed.length > 0) && (
        <div role="status" className="flex flex-none flex-wrap items-center gap-x-4 gap-y-1 border-b border-hair bg-goldwash px-4 py-1.5">
          <span className="min-w-0 flex-1">
            {assumed.length > 0 && <>The visitor is taken to be {assumed.join(', ')}. </>}
            {played.data && isChanged && <Changes pages={played.data.pages} />}
          </span>
          {isChanged && (
            <>
              <Button onClick={() => setBefore(undefined)}>Go on from here</Button>
              <Button
                kind="link"
                onClick={() => {
                  if (before) put({ visitor: before });
                  setBefore(undefined);
                  setAssumed([]);
                }}
              >
                Undo the change
              </Button>
            </>
          )}
        </div>
      )}
      <Refused error={cast.error ?? recorded.error ?? trial.error} />
      <div className="flex min-h-0 flex-1 max-md:block max-md:overflow-auto">
        <div className="flex w-[340px] flex-none flex-col border-e border-ink bg-sheet max-md:w-full">
          <ol aria-label="The journey" className="max-h-[55%] flex-none overflow-auto px-4 py-2 max-md:max-h-none">
            {journey.pages.map((page, i) => (
              <li key={rows.keys[i]} className="border-b border-hair py-1.5 last:border-0">
                <PageSentence
                  page={page}
                  place={i + 1}
                  onChange={(changed) => setPages(journey.pages.map((p, at) => (at === i ? changed : p)))}
                  onRemove={
                    journey.pages.length > 1
                      ? () => {
                          rows.removed(i);
                          setPages(journey.pages.filter((_, at) => at !== i));
                        }
                      : undefined
                  }
                  onEarlier={
                    i > 0
                      ? () => {
                          rows.earlier(i);
                          setPages(swapped(journey.pages, i));
                        }
                      : undefined
                  }
                />
              </li>
            ))}
          </ol>
          <PageList onAdd={(page) => setPages([...journey.pages, page].slice(0, 40))} />
        </div>
        <div className="min-w-0 flex-1 overflow-auto px-4 py-3">
          {played.isPending && <Waiting>Rehearsing the visit</Waiting>}
          {played.isError && <Failed error={played.error} again={() => void played.refetch()} />}
          {played.data && !played.isError && (
            <>
              <p className="mb-3 text-soft">
                {total === 0 ? 'This visit meets nothing.' : `This visit meets ${total} ${total === 1 ? 'callout' : 'callouts'}.`}
                {played.data.segments.length > 0 && <> In the segments {played.data.segments.join(', ')}.</>}
                {journey.draft && (
                  <>
                    {' '}
                    The draft of{' '}
                    <Link to="/callouts/$calloutId" params={{ calloutId: journey.draft }} className="text-cobalt hover:underline">
                      {nameOf(journey.draft)}
                    </Link>{' '}
                    is on air here.
                  </>
                )}
              </p>
              {played.data.pages.map((page, i) => (
                <section key={page.startsMs} aria-label={`Page ${i + 1}: ${page.path}`} className="mb-4">
                  <h2 className="mb-1 flex items-baseline gap-2 text-[15px] leading-6">
                    {i + 1}. <code className="font-mono text-[13px] font-medium">{page.path}</code>
                    <span className="font-sans text-[12px] font-normal tracking-normal text-soft">
                      from {pageClock(page.startsMs)} of the visit, for {pageClock(page.stayMs)}
                    </span>
                  </h2>
                  <PageTimeline page={page} isOpen={open === i} onToggle={() => setOpen(open === i ? undefined : i)} />
                </section>
              ))}
            </>
          )}
        </div>
      </div>
    </div>
  );
}

function Changes({ pages }: { pages: readonly { path: string; changes: string[] }[] }) {
  const told = pages.filter((p) => p.changes.length > 0);
  if (told.length === 0) return <>That fact changes nothing of what is shown.</>;
  return <>That fact {told.map((p) => `on ${p.path} ${p.changes.join(' and ')}`).join('; ')}.</>;
}

function swapped(pages: PlannedPage[], place: number): PlannedPage[] {
  const after = [...pages];
  const [page] = after.splice(place, 1);
  if (page) after.splice(place - 1, 0, page);
  return after;
}
