import { pageClock } from '../lib/time';
import { Button } from '../ui/Button';
import type { Lane, NotShown, Showing } from './api';
import { AXIS_END_MS, placeOf } from './axis';
import { CueBlock } from './CueBlock';

/** One page group: its head, and what a visitor meets there from second to second. */
export function LaneRow({
  lane,
  busiest,
  budget,
  chosenBlock,
  isChosen,
  onChooseBlock,
  onChooseLane,
  onStart,
}: {
  lane: Lane;
  /** Views a day of the busiest lane, against which this one's bar is drawn. */
  busiest: number;
  budget: number;
  chosenBlock: string | undefined;
  isChosen: boolean;
  onChooseBlock(calloutId: string): void;
  onChooseLane(): void;
  onStart?: () => void;
}) {
  const firsts = lane.showings.filter((s) => s.turn === 0);
  const clashes = lane.notShown.filter((n) => n.isClash);
  return (
    <li className="flex h-[99px] border-b border-hair">
      <button
        type="button"
        onClick={onChooseLane}
        aria-pressed={isChosen}
        className={`w-[148px] flex-none border-e border-ink px-4 py-2 text-start max-sm:w-[104px] max-sm:px-2 ${isChosen ? 'bg-selectwash' : 'hover:bg-sheet2'}`}
      >
        <span className="block font-semibold">{lane.name}</span>
        <span className="block text-[12px] leading-4 text-soft">{Math.round(lane.viewsADay).toLocaleString('en-GB')} views a day</span>
        <span className="my-1 block h-[3px] bg-hair">
          <span className="block h-full bg-ink" style={{ width: `${busiest ? (lane.viewsADay / busiest) * 100 : 0}%` }} />
        </span>
        {lane.quietBy ? (
          <span className="block text-[12px] text-soft">quiet page</span>
        ) : (
          <span className="flex items-center gap-1 text-[12px] whitespace-nowrap">
            <span className="flex gap-px" aria-hidden="true">
              {Array.from({ length: budget }, (_, i) => i).map((i) => (
                <span key={i} className={`h-2 w-1.5 border border-ink ${i < lane.starts ? 'bg-marigold' : 'bg-sheet'}`} />
              ))}
            </span>
            {lane.starts} of {budget}
          </span>
        )}
      </button>
      <div className={`relative min-w-0 flex-1 bg-sheet ${lane.quietBy ? 'hatch-quiet' : ''}`}>
        {lane.quietBy ? (
          <p className="p-5">
            <span className="block font-semibold">Nothing is shown here and nothing queues.</span>
            <span className="text-soft">House rule: {lane.quietBy} is quiet.</span>
          </p>
        ) : (
          <>
            <StillThere shares={lane.stillThere} />
            {groupTurns(lane.showings).map((turns) => (
              <CueBlock
                key={turns[0]?.calloutId}
                turns={turns}
                all={firsts}
                chosen={turns[0]?.calloutId === chosenBlock}
                onChoose={() => turns[0] && onChooseBlock(turns[0].calloutId)}
              />
            ))}
            {clashes.map((clash) => (
              <Clash key={`${clash.calloutId}:${clash.turn}`} clash={clash} onChoose={() => onChooseBlock(clash.calloutId)} />
            ))}
            {firsts.length === 0 && (
              <p className="relative flex items-center gap-3 p-5 text-soft">
                A visitor meets nothing here.
                {onStart && <Button onClick={onStart}>Start a callout for {lane.name.toLowerCase()}</Button>}
              </p>
            )}
          </>
        )}
      </div>
    </li>
  );
}

/** Shades the lane by the share of visitors still on the page. */
function StillThere({ shares }: { shares: number[] }) {
  const points = shares.map((share, step) => `${placeOf(step * 5_000)},${(1 - share) * 100}`);
  if (!shares.some((s) => s > 0)) return null;
  return (
    <svg viewBox="0 0 100 100" preserveAspectRatio="none" className="absolute inset-0 h-full w-full" aria-hidden="true">
      <polygon points={`0,100 ${points.join(' ')} 100,100`} fill="var(--color-paper)" />
    </svg>
  );
}

function Clash({ clash, onChoose }: { clash: NotShown; onChoose(): void }) {
  if (clash.reason.kind !== 'noFreeSlot') return null;
  const { dueMs, gaveUpMs } = clash.reason;
  const left = placeOf(dueMs);
  return (
    <button
      type="button"
      onClick={onChoose}
      className="absolute bottom-1.5 flex items-center gap-1.5 text-[12px] leading-4 whitespace-nowrap"
      style={{ insetInlineStart: `${left}%`, width: `${100 - left}%` }}
    >
      <span
        className="hatch inline-block h-3 flex-none"
        style={{ width: `${((placeOf(Math.min(gaveUpMs, AXIS_END_MS)) - left) / (100 - left)) * 100}%` }}
      />
      <span className="overflow-hidden text-ellipsis">
        <b className="text-bad">Clash</b> {clash.name}
        {clash.turn > 0 && ` ${clash.turn + 1}`}, gives up {pageClock(gaveUpMs)}
      </span>
    </button>
  );
}

function groupTurns(showings: Showing[]): Showing[][] {
  const groups = new Map<string, Showing[]>();
  for (const showing of showings) groups.set(showing.calloutId, [...(groups.get(showing.calloutId) ?? []), showing]);
  return [...groups.values()];
}
