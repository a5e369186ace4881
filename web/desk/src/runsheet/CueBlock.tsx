import { type KeyboardEvent, useRef } from 'react';
import { KINDS } from '../brief/words';
import { ShapeSign } from '../kit/ShapeSign';
import { pageClock } from '../kit/time';
import { type Showing, shareWords } from './api';
import { placeOf } from './axis';
import { useDelayDrag } from './useDelayDrag';

/** A callout on the axis: a pole at its start, its name beside it, a bar as long as it stays; turns are numbered bars on a wire. */
export function CueBlock({
  turns,
  room,
  chosen,
  changed,
  onChoose,
  onDelay,
}: {
  turns: Showing[];
  /** How wide its name may be, in percent of the lane. */
  room: number;
  chosen: boolean;
  /** Whether a change of it is being tried out. */
  changed: boolean;
  onChoose(): void;
  /** Tries another wait in seconds; left out where the wait cannot be moved. */
  onDelay?: ((seconds: number) => void) | undefined;
}) {
  const block = useRef<HTMLDivElement>(null);
  const flag = useRef<HTMLSpanElement>(null);
  const drag = useDelayDrag(block, flag, onDelay);
  const first = turns[0];
  if (!first) return null;
  const last = turns[turns.length - 1] ?? first;
  const seconds = Math.round((first.endMs - first.startMs) / 1000);
  const stays = first.endedBy === 'closed' ? 'until closed' : `${seconds} s`;
  const share = first.sharePercent === null ? '' : `, shown to ${shareWords(first.sharePercent)}`;
  const place = first.placeUnknown ? ', its place not seen yet' : '';
  const isGreeting = first.shape === 'bubble';
  const small = `${isGreeting ? 'greeting' : KINDS[first.kind].name.toLowerCase()}, ${turns.length > 1 ? `${turns.length} turns` : stays}${share}${place}`;
  const left = placeOf(first.startMs);
  const wait = first.waitSeconds;

  function onKeyDown(event: KeyboardEvent) {
    if (!onDelay || wait === null || !event.altKey || (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight')) return;
    event.preventDefault();
    const step = (event.shiftKey ? 5 : 1) * (event.key === 'ArrowLeft' ? -1 : 1);
    onDelay(Math.max(0, Math.min(3600, wait + step)));
  }

  return (
    <div
      ref={block}
      className="absolute top-2 h-[62px]"
      style={{ insetInlineStart: `${left}%`, width: `${100 - left}%`, pointerEvents: 'none' }}
    >
      <span className={`absolute inset-y-0 start-0 w-0.5 ${chosen ? 'bg-cobalt' : 'bg-ink'}`} />
      <button
        type="button"
        onClick={() => drag.wasDragged() || onChoose()}
        onKeyDown={onKeyDown}
        onPointerDown={onDelay && wait !== null ? (event) => drag.begin(event, first.startMs, wait) : undefined}
        aria-pressed={chosen}
        aria-description={onDelay && wait !== null ? 'Alt and the arrow keys move it by a second, with Shift by five' : undefined}
        data-cue={first.calloutId}
        title={first.name}
        className={`pointer-events-auto absolute start-1 top-0 block touch-none overflow-hidden rounded px-1 text-start ${chosen ? 'bg-selectwash outline-2 outline-cobalt' : 'hover:bg-sheet'} ${onDelay && wait !== null ? '!cursor-ew-resize' : ''}`}
        style={{ maxWidth: `calc(${(room / (100 - left || 1)) * 100}% - 8px)` }}
      >
        <span className="flex items-center gap-1.5 font-semibold whitespace-nowrap">
          {room > 9 && <ShapeSign shape={first.shape} />}
          <span className="overflow-hidden text-ellipsis">{first.name}</span>
          {changed && <span className="h-[7px] w-[7px] flex-none rounded-full border border-ink bg-marigold" />}
        </span>
        <span
          className={`flex items-center gap-1 overflow-hidden text-[12px] leading-4 whitespace-nowrap text-soft ${room > 7 ? '' : 'invisible'}`}
        >
          {first.scrollPercent !== null && <Gauge percent={first.scrollPercent} />}
          <span className="overflow-hidden text-ellipsis">{small}</span>
        </span>
        <span className="sr-only">
          , shown at {pageClock(first.startMs)} for {seconds} s{changed && ', being tried out'}
        </span>
      </button>
      <span ref={flag} hidden className="absolute -top-2 start-0 z-10 rounded-sm bg-cobalt px-1 text-[12px] leading-4 text-white" />
      {turns.length > 1 && (
        <span
          className="absolute top-[52px] h-0.5 bg-ink"
          style={{ insetInlineStart: 0, width: within(placeOf(last.startMs) - left, left) }}
        />
      )}
      {turns.map((turn) => (
        <span
          key={`${turn.turn}:${turn.startMs}`}
          className={`absolute top-[44px] flex h-[17px] items-center border border-ink bg-marigold px-1 text-[11px] leading-none font-bold ${isGreeting ? PENNANT : ''}`}
          style={{
            insetInlineStart: within(placeOf(turn.startMs) - left, left),
            width: within(Math.max(placeOf(turn.endMs) - placeOf(turn.startMs), 0.8), left),
          }}
        >
          {turn.turn > 0 ? turn.turn + 1 : ''}
        </span>
      ))}
    </div>
  );
}

/** A greeting flies as a pennant: what tells is a block, what calls is a flag. */
const PENNANT =
  '[clip-path:polygon(0_0,100%_50%,0_100%)] !min-w-4 !border-0 !bg-ink before:absolute before:inset-[1.5px] before:end-[4px] before:bg-marigold before:[clip-path:polygon(0_0,100%_50%,0_100%)]';

/** A small gauge, filled to the depth of the page that is waited for. */
function Gauge({ percent }: { percent: number }) {
  return (
    <span className="inline-flex flex-none items-center gap-1 font-semibold text-ink">
      <span className="relative inline-block h-3 w-[7px] border border-ink bg-sheet">
        <span className="absolute inset-x-0 top-0 bg-ink" style={{ height: `${percent}%` }} />
      </span>
      {percent} %
    </span>
  );
}

// Percent of the lane, said in percent of the block, which reaches from its start to the lane's end.
const within = (percent: number, left: number) => `${(percent / (100 - left || 1)) * 100}%`;
