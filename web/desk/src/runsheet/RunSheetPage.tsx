import { useMutation, useQuery } from '@tanstack/react-query';
import { useNavigate, useSearch } from '@tanstack/react-router';
import { useDesk } from '../app/desk';
import { startCallout } from '../callouts/api';
import { HouseRulesPanel } from '../house';
import { mayAct } from '../session/model';
import { Failed, Waiting } from '../ui/Notice';
import { PhraseMenu } from '../ui/PhraseMenu';
import { type Persona, runSheetQuery } from './api';
import { placeOf, TICKS } from './axis';
import { LaneRow } from './LaneRow';
import { SidePanel } from './SidePanel';

const PERSONAS: readonly (readonly [Persona, string])[] = [
  ['new', 'new visitor'],
  ['backAfterADay', 'visitor back after a day, who met everything then'],
  ['closedOne', 'visitor who closed a callout an hour ago'],
];

/** The home screen: what a visitor meets on each page group, second by second, and where callouts clash. */
export function RunSheetPage() {
  const { site, member } = useDesk();
  const search = useSearch({ from: '/' });
  const navigate = useNavigate({ from: '/' });
  const persona = search.persona ?? 'new';
  const sheet = useQuery(runSheetQuery(site.id, persona));
  const start = useMutation({
    mutationFn: (pageGroup: string) => startCallout(site.id, { pageGroup, source: null, copyOf: null, kind: null }),
    onSuccess: (made) => void navigate({ to: '/callouts/$calloutId', params: { calloutId: made.id } }),
  });
  const choose = (block: string | undefined, lane: string | undefined) =>
    void navigate({ search: (before) => ({ ...before, block, lane, panel: undefined }), replace: true });

  if (sheet.isError) return <Failed error={sheet.error} again={() => void sheet.refetch()} />;
  if (!sheet.data) return <Waiting>Rehearsing every page group</Waiting>;
  const { lanes, rules, drafts, paused } = sheet.data;
  const busiest = Math.max(...lanes.map((l) => l.viewsADay), 0);
  const lane = lanes.find((l) => l.groupId === search.lane);
  return (
    <div className="flex h-full flex-col">
      <div className="flex min-h-14 flex-none flex-wrap items-center gap-x-5 border-b border-ink px-4 py-2">
        <h1 className="text-[22px] leading-7">Run sheet</h1>
        <p className="font-display text-[16px] leading-[26px]">
          Seen by a{' '}
          <PhraseMenu
            facet="who"
            label="Seen by"
            value={persona}
            choices={PERSONAS}
            onChoose={(chosen) => void navigate({ search: (before) => ({ ...before, persona: chosen }) })}
          />{' '}
          who stays two minutes, as of now.
        </p>
      </div>
      <div className="relative flex min-h-0 flex-1">
        <div className="flex min-w-0 flex-1 flex-col">
          <Axis />
          <ul className="min-h-0 flex-1 overflow-auto" aria-label="Page groups">
            {lanes.map((l) => (
              <LaneRow
                key={l.groupId}
                lane={l}
                busiest={busiest}
                budget={rules.mostPerVisit}
                chosenBlock={search.lane === l.groupId ? search.block : undefined}
                isChosen={search.lane === l.groupId && !search.block}
                onChooseBlock={(block) => choose(block, l.groupId)}
                onChooseLane={() => choose(undefined, l.groupId)}
                onStart={mayAct(member.role, 'editor') ? () => start.mutate(l.groupId) : undefined}
              />
            ))}
          </ul>
          <div className="flex min-h-10 flex-none flex-wrap items-center gap-x-6 border-t border-ink px-4 text-[12px]">
            <span>
              <b>Off the sheet</b> {drafts} {drafts === 1 ? 'draft' : 'drafts'}, {paused} paused
            </span>
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
              <Key className="hatch">clash</Key>
              <Key className="bg-paper border border-hair">still on the page</Key>
            </span>
          </div>
        </div>
        {search.panel === 'rules' && (
          <HouseRulesPanel onClose={() => void navigate({ search: (before) => ({ ...before, panel: undefined }) })} />
        )}
        {lane && search.panel !== 'rules' && <SidePanel lane={lane} block={search.block} onClose={() => choose(undefined, undefined)} />}
      </div>
    </div>
  );
}

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
    </div>
  );
}
