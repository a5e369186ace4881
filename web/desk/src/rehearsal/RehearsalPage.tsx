import { useMutation, useQuery } from '@tanstack/react-query';
import { useNavigate, useSearch } from '@tanstack/react-router';
import { useState } from 'react';
import { calloutsQuery } from '../catalogue/api';
import { Button } from '../kit/Button';
import { Failed, Waiting } from '../kit/Notice';
import { Refused } from '../kit/Panel';
import { PhrasePopover } from '../kit/PhrasePopover';
import { SheetViews } from '../kit/SheetViews';
import { useRowKeys } from '../kit/useRowKeys';
import { useDesk } from '../session/desk';
import { useTitle } from '../session/useTitle';
import { castVisitor, fetchJourney, playQuery } from '../visits/api';
import { type Journey, type PlannedPage, plannedPage, sameVisitor, trimmed, type Visitor } from '../visits/model';
import { useTrial } from '../visits/useTrial';
import { SegmentChoice } from './FactEditor';
import { PageList, PageSentence } from './JourneyEditor';
import { ChangeBar, PlayedVisit } from './PlayedVisit';
import { RecordedChoice } from './RecordedChoice';
import { VisitSentence } from './VisitSentence';

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

  return (
    <div className="flex h-full flex-col">
      <div className="flex min-h-14 flex-none flex-wrap items-start gap-x-5 gap-y-2 border-b border-ink px-4 py-2">
        <SheetViews open="/rehearsal" />
        <VisitSentence journey={journey} nameOf={nameOf} onFact={setFact} onBegin={(at) => put({ at })} />
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
        <ChangeBar
          assumed={assumed}
          pages={isChanged ? played.data?.pages : undefined}
          onKeep={isChanged ? () => setBefore(undefined) : undefined}
          onUndo={() => {
            if (before) put({ visitor: before });
            setBefore(undefined);
            setAssumed([]);
          }}
        />
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
          {played.data && !played.isError && <PlayedVisit played={played.data} draft={journey.draft} nameOf={nameOf} />}
        </div>
      </div>
    </div>
  );
}

function swapped(pages: PlannedPage[], place: number): PlannedPage[] {
  const after = [...pages];
  const [page] = after.splice(place, 1);
  if (page) after.splice(place - 1, 0, page);
  return after;
}
