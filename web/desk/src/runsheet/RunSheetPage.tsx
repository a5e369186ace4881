import { useMutation, useQuery } from '@tanstack/react-query';
import { Link, useNavigate, useSearch } from '@tanstack/react-router';
import { Popover } from 'radix-ui';
import { startCallout } from '../callouts/api';
import { HouseRulesPanel } from '../house/HouseRulesPanel';
import { Failed, Waiting } from '../kit/Notice';
import { plural } from '../kit/plural';
import { SheetViews } from '../kit/SheetViews';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { useTitle } from '../session/useTitle';
import { type OffSheet, runSheetQuery, type SheetSearch } from './api';
import { placeOf, TICKS } from './axis';
import { HourRuler } from './HourRuler';
import { LaneRow } from './LaneRow';
import { NextSteps } from './NextSteps';
import { SheetSentence } from './SheetSentence';
import { SidePanel } from './SidePanel';
import { TrialBar } from './TrialBar';

/** The home screen: what a visitor meets on each page group, second by second, and where callouts clash. */
export function RunSheetPage() {
  const { site, member } = useDesk();
  useTitle('Run sheet');
  const { block, lane: laneId, panel, ...sheetSearch } = useSearch({ from: '/' });
  const navigate = useNavigate({ from: '/' });
  const sheet = useQuery(runSheetQuery(site.id, sheetSearch));
  const start = useMutation({
    mutationFn: (pageGroup: string) => startCallout(site.id, { pageGroup }),
    onSuccess: (made) => void navigate({ to: '/callouts/$calloutId', params: { calloutId: made.id } }),
  });
  const choose = (chosen: string | undefined, lane: string | undefined) =>
    void navigate({ search: (before) => ({ ...before, block: chosen, lane, panel: undefined }), replace: true });
  const change = (to: SheetSearch) => void navigate({ search: (before) => ({ ...before, ...to }) });
  const attempt = (trying: string | undefined) => void navigate({ search: (before) => ({ ...before, trying }), replace: true });

  const sentence = (
    <div className="flex min-h-14 flex-none items-center gap-x-4 border-b border-ink px-4 py-1.5 max-xl:flex-wrap">
      <SheetViews open="/" />
      <SheetSentence search={sheetSearch} onChange={change} />
      {sheet.data && !sheet.isError && sheet.data.shareOfVisits !== null && (
        <span className="whitespace-nowrap text-soft" title="Of the visits recorded in the last 30 days">
          {percent(sheet.data.shareOfVisits)} of visits
        </span>
      )}
      {sheet.data && <HourRuler hours={sheet.data.hours} at={sheetSearch.at} onChoose={(at) => change({ at })} />}
    </div>
  );
  // A visitor that cannot be must leave the sentence standing, or nobody could put it right.
  if (sheet.isError)
    return (
      <div className="flex h-full flex-col">
        {sentence}
        <Failed error={sheet.error} again={() => void sheet.refetch()} />
      </div>
    );
  if (!sheet.data) return <Waiting page="Run sheet">Rehearsing every page group</Waiting>;
  const { lanes, rules, drafts, paused, who, assumed, trial, offAir, offSheet, hasGroups } = sheet.data;
  const busiest = Math.max(...lanes.map((l) => l.viewsADay), 0);
  const lane = lanes.find((l) => l.groupId === laneId);
  const mayEdit = mayAct(member, 'draft');
  return (
    <div className="flex h-full flex-col">
      {sentence}
      {assumed.length > 0 && (
        <p className="flex-none border-b border-hair bg-sheet2 px-4 py-1 text-[12px] text-soft">
          To be in that segment the visitor is taken to be {assumed.join(', ')}.
        </p>
      )}
      {offAir && (
        <p role="status" className="flex-none border-b border-ink bg-marigold px-4 py-1.5 font-semibold text-ink">
          The site is off air: a visitor meets nothing on any page until it is back on air.
        </p>
      )}
      <div className="relative flex min-h-0 flex-1">
        <div className="flex min-w-0 flex-1 flex-col">
          <NextSteps />
          <Axis />
          {lanes.length === 0 && (
            <p className="p-6 text-soft">
              No page has been heard from yet. Each page group will be a lane here, with what a visitor meets on it second by second.
            </p>
          )}
          <ul
            className={`min-h-0 flex-1 overflow-auto ${sheet.isFetching && sheet.isPlaceholderData ? 'opacity-70' : ''}`}
            aria-label="Page groups"
          >
            {lanes.map((l) => (
              <LaneRow
                key={l.groupId}
                lane={l}
                busiest={busiest}
                budget={rules.mostPerVisit}
                chosenBlock={laneId === l.groupId ? block : undefined}
                changedBlock={trial?.calloutId}
                isChosen={laneId === l.groupId && !block}
                onChooseBlock={(chosen) => choose(chosen, l.groupId)}
                onChooseLane={() => choose(undefined, l.groupId)}
                onStart={mayEdit && hasGroups && l.groupId !== NO_GROUP ? () => start.mutate(l.groupId) : undefined}
                onDelay={mayEdit ? (calloutId, seconds) => attempt(`wait.${calloutId}.${seconds}`) : undefined}
              />
            ))}
          </ul>
          {trial && <TrialBar key={`${trial.calloutId}:${trial.sentence}`} trial={trial} onDone={() => attempt(undefined)} />}
          <div className="flex min-h-10 flex-none flex-wrap items-center gap-x-6 border-t border-ink px-4 text-[12px]">
            <span>
              <b>Off the sheet</b> {plural(drafts, 'draft')}, {paused} paused
            </span>
            {offSheet.length > 0 && <OffTheSheet off={offSheet} />}
            <span className="text-soft">
              <button
                type="button"
                className="font-semibold text-cobalt hover:underline max-sm:min-h-11"
                onClick={() => void navigate({ search: (before) => ({ ...before, block: undefined, lane: undefined, panel: 'rules' }) })}
              >
                House rules
              </button>
              : <b className="text-ink">{rules.mostAtOnce}</b> at once, <b className="text-ink">{rules.gapSeconds} s</b> apart,{' '}
              <b className="text-ink">{rules.mostPerVisit}</b> a visit, <b className="text-ink">{rules.patienceSeconds} s</b> of patience
            </span>
            <span className="ms-auto flex items-center gap-4 text-soft max-md:hidden">
              <Key className="border border-ink bg-marigold">tells</Key>
              <Key className="border border-dashed border-ink bg-sheet">to come</Key>
              <Key className="hatch">clash</Key>
              <Key className="bg-paper border border-hair">still on the page</Key>
            </span>
          </div>
        </div>
        {panel === 'rules' && <HouseRulesPanel onClose={() => void navigate({ search: (before) => ({ ...before, panel: undefined }) })} />}
        {lane && panel !== 'rules' && (
          <SidePanel
            lane={lane}
            block={block}
            search={sheetSearch}
            who={who}
            onTry={attempt}
            onClose={() => choose(undefined, undefined)}
          />
        )}
      </div>
    </div>
  );
}

/** Pages that are in no group stand under this id. */
const NO_GROUP = '00000000-0000-0000-0000-000000000000';

/** Live callouts that this visitor meets on no lane, each with why. */
function OffTheSheet({ off }: { off: readonly OffSheet[] }) {
  return (
    <Popover.Root>
      <Popover.Trigger className="font-semibold text-cobalt hover:underline max-sm:min-h-11">
        {off.length} live, met on no lane
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="top"
          align="start"
          sideOffset={6}
          aria-label="Live callouts off the sheet"
          className="z-50 max-h-[60vh] w-[420px] max-w-[calc(100vw-16px)] overflow-auto rounded border border-ink bg-sheet p-4 shadow-lg"
        >
          <ul>
            {off.map((o) => (
              <li key={o.calloutId} className="border-t border-hair py-1.5 first:border-t-0">
                <Link to="/callouts/$calloutId" params={{ calloutId: o.calloutId }} className="font-semibold text-cobalt hover:underline">
                  {o.name}
                </Link>
                <span className="block text-[12px] leading-4 text-soft">{o.why}</span>
              </li>
            ))}
          </ul>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

const percent = (share: number) => (share > 0 && share < 0.01 ? 'under 1 %' : `${Math.round(share * 100)} %`);

function Key({ className, children }: { className: string; children: string }) {
  return (
    <span className="flex items-center gap-1.5">
      <span className={`h-2.5 w-4 ${className}`} aria-hidden="true" /> {children}
    </span>
  );
}

function Axis() {
  return (
    <div className="flex h-[26px] flex-none border-b border-ink text-[12px]" aria-hidden="true">
      <span className="w-[148px] flex-none border-e border-ink px-4 leading-[26px] text-soft max-sm:w-[104px] max-sm:px-2">Page group</span>
      <span className="relative flex-1">
        {TICKS.named.map((ms) => (
          <span
            key={ms}
            className="absolute bottom-0 h-2 border-s border-ink"
            style={{ insetInlineStart: `min(${placeOf(ms)}%, 100% - 1px)` }}
          >
            <span
              className={`absolute -top-4 leading-4 text-soft ${ms === 120_000 ? 'end-1' : 'start-1'} ${ms % 15_000 === 0 && ms <= 60_000 ? '' : 'max-sm:hidden'}`}
            >
              {Math.floor(ms / 60_000)}:{String((ms / 1000) % 60).padStart(2, '0')}
            </span>
          </span>
        ))}
        {TICKS.small.map((ms) => (
          <span key={ms} className="absolute bottom-0 h-1 border-s border-edge" style={{ insetInlineStart: `${placeOf(ms)}%` }} />
        ))}
      </span>
      <span className="w-[126px] flex-none border-s border-dashed border-strong px-2.5 leading-[26px] font-semibold max-lg:hidden">
        On leaving
      </span>
    </div>
  );
}
