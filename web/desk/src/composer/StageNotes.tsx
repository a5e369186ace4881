import { Link } from '@tanstack/react-router';
import type { ReactNode } from 'react';
import type { Staged } from './useStaged';

/** What has to be said about the stage: why it is empty, what was set aside, and why it is a sketch. */
export function StageNotes({
  staged,
  sketch,
  path,
  onAgain,
  onOpen,
}: {
  staged: Staged | undefined;
  /** Why a sketch is shown: the site never spoke, or this page did not answer. */
  sketch: 'bare' | 'silent' | undefined;
  path: string;
  onAgain(): void;
  onOpen(): void;
}) {
  const { note, lifted = [], missing = [] } = staged ?? {};
  if (!sketch && !note && lifted.length + missing.length === 0) return null;
  return (
    <div role="status" className="max-h-[120px] flex-none overflow-auto border-s-4 border-warn bg-goldwash px-3 py-1.5">
      {sketch === 'bare' && (
        <p>
          <b>A sketch, not your page.</b> The snippet is not on the site yet.{' '}
          <Link to="/install" className="font-semibold text-cobalt hover:underline">
            Put it there
          </Link>
        </p>
      )}
      {sketch === 'silent' && (
        <p>
          <b>A sketch, not your page.</b> {path} did not answer: it may lack the snippet, or forbid being framed.{' '}
          <Act onClick={onAgain}>Try the page again</Act> or <Act onClick={onOpen}>open it in a tab of its own</Act>.
        </p>
      )}
      {note && (
        <p>
          <b>Nothing on the stage.</b> {note}
        </p>
      )}
      {lifted.length > 0 && (
        <p>
          <b>Shown here all the same.</b> {lifted.join(' ')}
        </p>
      )}
      {missing.map((says) => (
        <p key={says}>
          <b>Not on this page.</b> {says}
        </p>
      ))}
    </div>
  );
}

function Act({ onClick, children }: { onClick(): void; children: ReactNode }) {
  return (
    <button type="button" className="font-semibold text-cobalt hover:underline" onClick={onClick}>
      {children}
    </button>
  );
}
