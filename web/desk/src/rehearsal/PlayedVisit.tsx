import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import type { Schema } from '../data/api';
import { Button } from '../kit/Button';
import { plural } from '../kit/plural';
import { pageClock } from '../kit/time';
import { PageTimeline } from './PageTimeline';

/** What a visit meets, page by page. */
export function PlayedVisit({
  played,
  draft,
  nameOf,
}: {
  played: Schema<'PlayedVisitView'>;
  draft: string | undefined;
  nameOf(callout: string): string;
}) {
  const [open, setOpen] = useState<number>();
  const total = played.pages.reduce((sum, p) => sum + p.showings.filter((s) => s.turn === 0).length, 0);
  return (
    <>
      <p className="mb-3 text-soft">
        {total === 0 ? 'This visit meets nothing.' : `This visit meets ${plural(total, 'callout')}.`}
        {played.segments.length > 0 && <> In the segments {played.segments.join(', ')}.</>}
        {draft && (
          <>
            {' '}
            The draft of{' '}
            <Link to="/callouts/$calloutId" params={{ calloutId: draft }} className="text-cobalt hover:underline">
              {nameOf(draft)}
            </Link>{' '}
            is on air here.
          </>
        )}
      </p>
      {played.pages.map((page, i) => (
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
  );
}

/** What changing the visitor has changed of what is met, and the way back. */
export function ChangeBar({
  assumed,
  pages,
  onKeep,
  onUndo,
}: {
  /** What the visitor was taken to be besides; none where nothing had to be assumed. */
  assumed: readonly string[];
  /** The pages with what has changed on each; undefined until they are played, or where nothing was changed. */
  pages: readonly { path: string; changes: string[] }[] | undefined;
  /** Undefined where the visitor is as before. */
  onKeep: (() => void) | undefined;
  onUndo(): void;
}) {
  return (
    <div role="status" className="flex flex-none flex-wrap items-center gap-x-4 gap-y-1 border-b border-hair bg-goldwash px-4 py-1.5">
      <span className="min-w-0 flex-1">
        {assumed.length > 0 && <>The visitor is taken to be {assumed.join(', ')}. </>}
        {pages && <Changes pages={pages} />}
      </span>
      {onKeep && (
        <>
          <Button onClick={onKeep}>Go on from here</Button>
          <Button kind="link" onClick={onUndo}>
            Undo the change
          </Button>
        </>
      )}
    </div>
  );
}

function Changes({ pages }: { pages: readonly { path: string; changes: string[] }[] }) {
  const told = pages.filter((p) => p.changes.length > 0);
  if (told.length === 0) return <>That fact changes nothing of what is shown.</>;
  return <>That fact {told.map((p) => `on ${p.path} ${p.changes.join(' and ')}`).join('; ')}.</>;
}
