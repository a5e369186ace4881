import type { Schema } from '../data/api';
import { pageClock } from '../kit/time';

/** A clash drawn to scale: how long it waited, and when there was room again. */
export function ClashPicture({ reason }: { reason: Schema<'ReasonNoFreeSlot'> }) {
  const { dueMs, gaveUpMs, nextFreeMs } = reason;
  const end = Math.max(gaveUpMs, nextFreeMs ?? gaveUpMs);
  const span = Math.max(1, end - dueMs) * 1.12;
  const at = (ms: number) => `${((ms - dueMs) / span) * 100}%`;
  return (
    <div className="relative mt-1 h-8" aria-hidden="true">
      <span className="hatch absolute top-0 h-3.5" style={{ insetInlineStart: 0, width: at(gaveUpMs) }} />
      <span className="absolute top-4 start-0 text-[12px] leading-4 text-soft">{pageClock(dueMs)}</span>
      <span
        className="absolute top-4 -translate-x-full text-[12px] leading-4 whitespace-nowrap text-bad"
        style={{ insetInlineStart: at(gaveUpMs) }}
      >
        gives up {pageClock(gaveUpMs)}
      </span>
      {nextFreeMs !== null && nextFreeMs !== undefined && (
        <>
          <span className="absolute top-0 h-4 border-s-2 border-good" style={{ insetInlineStart: at(nextFreeMs) }} />
          <span
            className="absolute top-0 -translate-x-full pe-1 text-[12px] leading-3.5 whitespace-nowrap text-good"
            style={{ insetInlineStart: at(nextFreeMs) }}
          >
            {nextFreeMs - gaveUpMs > span * 0.2 ? `${pageClock(nextFreeMs)} free` : ''}
          </span>
        </>
      )}
    </div>
  );
}
