import { Button } from '../kit/Button';
import { plural } from '../kit/plural';
import { ShapeSign } from '../kit/ShapeSign';
import { pageClock } from '../kit/time';
import type { Lane, NotShown, Showing, Waiting } from './api';
import { AXIS_END_MS, placeOf, roomFor, widestGap } from './axis';
import { CueBlock } from './CueBlock';

/** One page group: its head, what a visitor meets there from second to second, and what on leaving. */
export function LaneRow({
  lane,
  busiest,
  budget,
  chosenBlock,
  changedBlock,
  isChosen,
  onChooseBlock,
  onChooseLane,
  onStart,
  onDelay,
}: {
  lane: Lane;
  /** Views a day of the busiest lane, against which this one's bar is drawn. */
  busiest: number;
  budget: number;
  chosenBlock: string | undefined;
  /** The callout of which a change is being tried out. */
  changedBlock: string | undefined;
  isChosen: boolean;
  onChooseBlock(calloutId: string): void;
  onChooseLane(): void;
  onStart?: (() => void) | undefined;
  onDelay?: ((calloutId: string, seconds: number) => void) | undefined;
}) {
  const firsts: { startMs: number }[] = [...lane.showings.filter((s) => s.turn === 0), ...lane.waiting.map((w) => ({ startMs: w.atMs }))];
  const isEmpty = firsts.length + lane.leaving.length + lane.clashes.length === 0;
  return (
    <li className="flex h-[99px] border-b border-hair">
      <button
        type="button"
        onClick={onChooseLane}
        aria-pressed={isChosen}
        className={`w-[148px] flex-none border-e border-ink px-4 py-2 text-start max-sm:w-[104px] max-sm:px-2 ${isChosen ? 'bg-selectwash' : 'hover:bg-sheet2'}`}
      >
        <span className="block truncate font-semibold">{lane.name}</span>
        <span className="block text-[12px] leading-4 text-soft">{plural(Math.round(lane.viewsADay), 'view')} a day</span>
        <span className="my-1 block h-[3px] bg-hair">
          <span className="block h-full bg-ink" style={{ width: `${busiest ? (lane.viewsADay / busiest) * 100 : 0}%` }} />
        </span>
        {lane.quietBy ? (
          <span className="block text-[12px] text-soft">quiet page</span>
        ) : (
          <span className="flex items-center gap-1 text-[12px] whitespace-nowrap">
            <span className="flex gap-px" aria-hidden="true">
              {Array.from({ length: Math.min(budget, 8) }, (_, i) => i).map((i) => (
                <span key={i} className={`h-2 w-1.5 border border-ink ${i < lane.starts ? 'bg-marigold' : 'bg-sheet'}`} />
              ))}
            </span>
            {lane.starts} of {budget}
            {lane.starts >= budget && ', full'}
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
            {groupTurns(lane.showings).map(([first, ...more]) => (
              <CueBlock
                key={first.calloutId}
                turns={[first, ...more]}
                room={roomFor(first, firsts)}
                chosen={first.calloutId === chosenBlock}
                changed={first.calloutId === changedBlock}
                onChoose={() => onChooseBlock(first.calloutId)}
                onDelay={first.shape === 'bubble' ? undefined : onDelay && ((seconds) => onDelay(first.calloutId, seconds))}
              />
            ))}
            {lane.waiting.map((w) => (
              <WaitingCue
                key={w.calloutId}
                cue={w}
                room={roomFor({ startMs: w.atMs }, firsts)}
                chosen={w.calloutId === chosenBlock}
                onChoose={() => onChooseBlock(w.calloutId)}
              />
            ))}
            <Clashes clashes={lane.clashes} onChoose={onChooseBlock} />
            {isEmpty && (
              <p className="relative flex items-center gap-3 p-5 text-soft">
                {lane.differs.length > 0 ? `A visitor meets nothing on ${lane.path}, the busiest page.` : 'A visitor meets nothing here.'}
                {onStart && <Button onClick={onStart}>Start a callout for {lane.name.toLowerCase()}</Button>}
              </p>
            )}
            {lane.differs.length > 0 && (
              <button
                type="button"
                onClick={onChooseLane}
                className="absolute end-2 bottom-1.5 z-10 rounded border border-edge bg-sheet px-1.5 text-[12px] leading-5 font-semibold text-cobalt hover:underline"
              >
                {plural(
                  lane.differs.reduce((sum, d) => sum + d.pages, 0),
                  'page differs',
                  'pages differ',
                )}
              </button>
            )}
          </>
        )}
      </div>
      <div className="w-[126px] flex-none border-s border-dashed border-strong bg-sheet max-lg:hidden">
        {lane.leaving.map((s) => (
          <button
            key={s.calloutId}
            type="button"
            onClick={() => onChooseBlock(s.calloutId)}
            aria-pressed={s.calloutId === chosenBlock}
            title={s.name}
            className={`block h-full w-full overflow-hidden border-s-2 px-2 py-2 text-start ${s.calloutId === chosenBlock ? 'border-cobalt bg-selectwash' : 'border-ink hover:bg-sheet2'}`}
          >
            <span className="flex items-center gap-1.5 font-semibold whitespace-nowrap">
              <ShapeSign shape={s.shape} /> <span className="truncate">{s.name}</span>
            </span>
            <span className="block text-[12px] leading-4 text-soft">on leaving</span>
            <span className="mt-1 block h-[17px] w-4/5 border border-ink bg-marigold" />
          </button>
        ))}
        {lane.leaving.length === 0 && <p className="px-2.5 py-2 text-[12px] text-soft">{lane.quietBy ? '' : 'nothing'}</p>}
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

/** A cue that would come on, were it not that its time or its events are still to come. */
function WaitingCue({ cue, room, chosen, onChoose }: { cue: Waiting; room: number; chosen: boolean; onChoose(): void }) {
  const left = placeOf(cue.atMs);
  const line = cue.isScheduled ? 'border-dashed' : 'border-dotted';
  return (
    <button
      type="button"
      onClick={onChoose}
      aria-pressed={chosen}
      title={`${cue.name}: ${cue.sentence}`}
      className="absolute top-2 h-[62px] text-start"
      style={{ insetInlineStart: `${left}%`, width: `${room}%` }}
    >
      <span className={`absolute inset-y-0 start-0 border-s-2 ${line} ${chosen ? 'border-cobalt' : 'border-ink'}`} />
      <span
        className={`absolute start-1 top-0 block max-w-[calc(100%-6px)] overflow-hidden rounded px-1 ${room < 6 ? 'sr-only' : ''} ${chosen ? 'bg-selectwash' : ''}`}
      >
        <span className="flex items-center gap-1.5 font-semibold whitespace-nowrap">
          {room > 9 && <ShapeSign shape={cue.shape} />}
          <span className="overflow-hidden text-ellipsis">{cue.name}</span>
        </span>
        <span className="flex items-center gap-1.5 text-[12px] leading-4 whitespace-nowrap text-soft">
          <WaitingWords cue={cue} />
        </span>
      </span>
      <span className={`absolute start-0 top-[44px] h-[17px] w-[74px] max-w-full border ${line} border-ink bg-sheet`} />
    </button>
  );
}

function WaitingWords({ cue }: { cue: Waiting }) {
  if (cue.reason.kind === 'tooFewEvents') {
    const { needs, has } = cue.reason;
    return (
      <>
        <span className="flex gap-px" aria-hidden="true">
          {Array.from({ length: Math.min(needs, 5) }, (_, i) => i).map((i) => (
            <span key={i} className={`h-2 w-1.5 border border-ink ${i < (has * Math.min(needs, 5)) / needs ? 'bg-ink' : 'bg-sheet'}`} />
          ))}
        </span>
        waiting: {has} of {plural(needs, 'event')}
      </>
    );
  }
  return <span className="overflow-hidden text-ellipsis">{cue.sentence.replace(/\.$/, '').replace(/^It /, '')}</span>;
}

/** What was due and found its place taken: each as long as it waited, named where there is room for its name. */
function Clashes({ clashes, onChoose }: { clashes: readonly NotShown[]; onChoose(calloutId: string): void }) {
  const waits = clashes.flatMap((clash) => {
    if (clash.reason.kind !== 'noFreeSlot') return [];
    const from = placeOf(clash.reason.dueMs);
    return [{ clash, from, to: placeOf(Math.min(clash.reason.gaveUpMs, AXIS_END_MS)), gaveUpMs: clash.reason.gaveUpMs }];
  });
  const [first] = waits;
  if (!first) return null;
  const gap = widestGap(waits);
  const name = `${first.clash.name}${first.clash.turn > 0 ? ` ${first.clash.turn + 1}` : ''}`;
  return (
    <>
      {waits.map(({ clash, from, to, gaveUpMs }) => (
        <button
          key={`${clash.calloutId}:${clash.turn}`}
          type="button"
          title={`Clash: ${clash.name}, gives up ${pageClock(gaveUpMs)}`}
          aria-label={`Clash: ${clash.name}${clash.turn > 0 ? `, turn ${clash.turn + 1}` : ''}, gives up ${pageClock(gaveUpMs)}`}
          onClick={() => onChoose(clash.calloutId)}
          className="hatch absolute bottom-1.5 h-4"
          style={{ insetInlineStart: `${from}%`, width: `max(8px, ${to - from}%)` }}
        />
      ))}
      <button
        type="button"
        tabIndex={-1}
        aria-hidden="true"
        onClick={() => onChoose(first.clash.calloutId)}
        className={`absolute bottom-1.5 overflow-hidden px-1.5 text-[12px] leading-4 text-ellipsis whitespace-nowrap ${gap.isBefore ? 'text-end' : 'text-start'}`}
        style={{ insetInlineStart: `${gap.from}%`, width: `${gap.to - gap.from}%` }}
      >
        <span className="bg-sheet px-0.5">
          <b className="text-bad">{waits.length > 1 ? `${waits.length} clashes` : 'Clash'}</b> {name}
          {waits.length > 1 ? ' and others' : `, gives up ${pageClock(first.gaveUpMs)}`}
        </span>
      </button>
    </>
  );
}

function groupTurns(showings: Showing[]): [Showing, ...Showing[]][] {
  const groups = new Map<string, [Showing, ...Showing[]]>();
  for (const showing of showings) {
    const known = groups.get(showing.calloutId);
    if (known) known.push(showing);
    else groups.set(showing.calloutId, [showing]);
  }
  return [...groups.values()];
}
