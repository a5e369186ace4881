import { Link } from '@tanstack/react-router';
import { ControlLink } from '../callouts/ReasonLine';
import { ShapeSign } from '../kit/ShapeSign';
import { pageClock } from '../kit/time';
import type { PlayedPage } from '../visits/api';
import { rowsOf, ticksOf } from './timeline';

const ROW_PX = 46;
/** How much of the width a name beside a cue is given. */
const NAME_SHARE = 0.22;

/** One page of a rehearsed visit: what comes on when, and why the rest does not. */
export function PageTimeline({ page, isOpen, onToggle }: { page: PlayedPage; isOpen: boolean; onToggle(): void }) {
  // Near the end a name stands before its bar, so that is where it needs room.
  const cues = page.showings
    .map((s, i) => {
      const isLate = s.startMs > (1 - NAME_SHARE) * page.stayMs;
      return { ...s, isLate, from: isLate ? s.startMs - NAME_SHARE * page.stayMs : s.startMs, key: `${s.calloutId}:${s.turn}:${i}` };
    })
    .sort((a, b) => a.from - b.from);
  const rows = rowsOf(
    cues.map((c) => ({ startMs: c.from, endMs: c.endMs })),
    page.stayMs,
    NAME_SHARE,
  );
  const height = 22 + Math.max(1, ...rows.map((r) => r + 1)) * ROW_PX;
  const reasons = page.notShown.filter((n) => n.turn === 0);
  return (
    <div className="min-w-0">
      {page.launcher && (
        <p className="mb-1 text-soft">
          <Link to="/launchers/$launcherId" params={{ launcherId: page.launcher.id }} className="font-semibold text-ink hover:underline">
            {page.launcher.name}
          </Link>{' '}
          stands here, {page.launcher.isOpen ? 'open' : 'closed'}
        </p>
      )}
      {page.changes.length > 0 && (
        <p role="status" className="mb-1.5 border-s-4 border-marigold bg-goldwash px-2 py-1">
          <b>That fact</b> {page.changes.join('; ')}.
        </p>
      )}
      <div className="relative overflow-hidden rounded border border-ink bg-sheet" style={{ height }}>
        <div aria-hidden="true">
          {ticksOf(page.stayMs).map((ms) => (
            <span
              key={ms}
              className="absolute top-0 h-4 border-s border-edge ps-1 text-[12px] leading-4 text-soft"
              style={{ insetInlineStart: `${(ms / page.stayMs) * 100}%` }}
            >
              {pageClock(ms)}
            </span>
          ))}
        </div>
        <ol aria-label={`Shown on ${page.path}`}>
          {cues.map((cue, i) => {
            const left = (cue.startMs / page.stayMs) * 100;
            return (
              <li
                key={cue.key}
                className="absolute"
                style={{ insetInlineStart: `${left}%`, top: 20 + (rows[i] ?? 0) * ROW_PX, width: `${100 - left}%`, height: ROW_PX - 4 }}
              >
                <span className="absolute inset-y-0 start-0 w-0.5 bg-ink" />
                <Link
                  to="/callouts/$calloutId"
                  params={{ calloutId: cue.calloutId }}
                  title={cue.says}
                  className={`absolute top-0 flex items-center gap-1.5 font-semibold whitespace-nowrap hover:underline ${cue.isLate ? 'end-full me-1 flex-row-reverse' : 'start-1.5'}`}
                >
                  <ShapeSign shape={cue.shape} /> {cue.name}
                  {cue.turn > 0 && <span className="font-normal text-soft">turn {cue.turn + 1}</span>}
                  <span className="sr-only">
                    , from {pageClock(cue.startMs)} to {pageClock(cue.endMs)}: {cue.says}
                  </span>
                </Link>
                <span
                  className="absolute top-[22px] h-[17px] border border-ink bg-marigold"
                  style={{
                    insetInlineStart: 0,
                    width: `max(4px, ${((cue.endMs - cue.startMs) / Math.max(1, page.stayMs - cue.startMs)) * 100}%)`,
                  }}
                />
              </li>
            );
          })}
        </ol>
        {cues.length === 0 && <p className="absolute start-3 top-8 text-soft">Nothing is shown on this page.</p>}
      </div>
      {reasons.length > 0 && (
        <>
          <button
            type="button"
            aria-expanded={isOpen}
            onClick={onToggle}
            className="mt-1 min-h-8 font-semibold text-cobalt hover:underline"
          >
            {isOpen ? 'Hide' : 'Why not'} the other {reasons.length}
          </button>
          {isOpen && (
            <ul className="mb-2 border-t border-hair bg-sheet">
              {reasons.map((n) => (
                <li
                  key={n.calloutId}
                  className="grid grid-cols-[180px_minmax(0,1fr)_auto] items-baseline gap-3 border-b border-hair px-3 py-1.5 max-md:grid-cols-1 max-md:gap-0.5"
                >
                  <Link to="/callouts/$calloutId" params={{ calloutId: n.calloutId }} className="font-semibold hover:underline">
                    {n.name}
                  </Link>
                  <span className="text-soft">{n.sentence}</span>
                  <ControlLink place={n.control} calloutId={n.calloutId} />
                </li>
              ))}
            </ul>
          )}
        </>
      )}
    </div>
  );
}
