import { KINDS } from '../callouts/words';
import { pageClock } from '../lib/time';
import type { Showing } from './api';
import { placeOf, roomFor } from './axis';

/** A callout on the axis: a pole at its start, its name beside it, a bar as long as it stays; turns are numbered bars on a wire. */
export function CueBlock({
  turns,
  all,
  chosen,
  onChoose,
}: {
  turns: Showing[];
  /** First turns of all callouts of the lane, so that names keep out of each other's way. */
  all: Showing[];
  chosen: boolean;
  onChoose(): void;
}) {
  const first = turns[0];
  if (!first) return null;
  const last = turns[turns.length - 1] ?? first;
  const seconds = Math.round((first.endMs - first.startMs) / 1000);
  const small = `${KINDS[first.kind].name.toLowerCase()}, ${turns.length > 1 ? `${turns.length} turns` : `${seconds} s`}`;
  const left = placeOf(first.startMs);
  return (
    <button
      type="button"
      onClick={onChoose}
      aria-pressed={chosen}
      className="absolute top-2 h-[62px] text-start"
      style={{ insetInlineStart: `${left}%`, width: `${100 - left}%`, pointerEvents: 'none' }}
    >
      <span className={`absolute inset-y-0 start-0 w-0.5 bg-ink ${chosen ? '!bg-cobalt' : ''}`} />
      <span
        className={`absolute start-1 top-0 block overflow-hidden rounded px-1 ${chosen ? 'bg-selectwash outline outline-2 outline-cobalt' : ''}`}
        style={{ maxWidth: `calc(${(roomFor(first, all) / (100 - left || 1)) * 100}% - 10px)`, pointerEvents: 'auto' }}
      >
        <span className="block overflow-hidden font-semibold text-ellipsis whitespace-nowrap">{first.name}</span>
        <span className="block overflow-hidden text-[12px] leading-4 text-ellipsis whitespace-nowrap text-soft">{small}</span>
        <span className="sr-only">
          , shown at {pageClock(first.startMs)} for {seconds} s
        </span>
      </span>
      {turns.length > 1 && (
        <span
          className="absolute top-[52px] h-0.5 bg-ink"
          style={{ insetInlineStart: 0, width: within(placeOf(last.startMs) - left, left) }}
        />
      )}
      {turns.map((turn) => (
        <span
          key={turn.turn}
          className="absolute top-[44px] flex h-[17px] items-center border border-ink bg-marigold px-1 text-[11px] leading-none font-bold"
          style={{
            insetInlineStart: within(placeOf(turn.startMs) - left, left),
            width: within(Math.max(placeOf(turn.endMs) - placeOf(turn.startMs), 0.8), left),
            pointerEvents: 'auto',
          }}
        >
          {turn.turn > 0 ? turn.turn + 1 : ''}
        </span>
      ))}
    </button>
  );
}

// Percent of the lane, said in percent of the block, which reaches from its start to the lane's end.
const within = (percent: number, left: number) => `${(percent / (100 - left || 1)) * 100}%`;
