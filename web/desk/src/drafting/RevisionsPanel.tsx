import type { UseQueryResult } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import { Button } from '../kit/Button';
import { Panel, Refused } from '../kit/Panel';
import { clock, day } from '../kit/time';

/** A draft as it was published once. */
export interface PastRevision<T> {
  number: number;
  content: T;
  publishedAt: string;
  publishedBy: string;
}

/** What was live before, what differs from the draft, and the way back to it. */
export function RevisionsPanel<T>({
  revisions,
  liveNumber,
  differs,
  mayEdit,
  onRestore,
  onClose,
  children,
}: {
  revisions: UseQueryResult<readonly PastRevision<T>[]>;
  /** Which of them is live; undefined where none is. */
  liveNumber: number | undefined;
  /** Whether the draft is another than a revision was. */
  differs(content: T): boolean;
  mayEdit: boolean;
  onRestore(content: T): void;
  onClose(): void;
  /** How a revision reads against the draft. */
  children(content: T): ReactNode;
}) {
  const [chosen, setChosen] = useState<number>();
  const list = revisions.data ?? [];
  const shown = list.find((r) => r.number === (chosen ?? list[0]?.number));
  return (
    <Panel
      label="Revisions"
      title="Revisions"
      wide
      onClose={onClose}
      foot={
        shown &&
        mayEdit && (
          <>
            <Button disabled={!differs(shown.content)} onClick={() => onRestore(shown.content)}>
              Bring revision {shown.number} back as the draft
            </Button>
            <span className="text-[12px] text-soft">Ctrl Z undoes it.</span>
          </>
        )
      }
    >
      {revisions.isPending && <p className="p-4 text-soft">Fetching the revisions</p>}
      <Refused error={revisions.error} />
      {revisions.data && list.length === 0 && (
        <p className="p-4 text-soft">It was never published. Each publication leaves a revision here, to be compared and brought back.</p>
      )}
      <ul className="max-h-[40%] overflow-auto border-b border-ink">
        {list.map((r) => (
          <li key={r.number} className="border-b border-hair last:border-0">
            <button
              type="button"
              aria-pressed={r.number === shown?.number}
              onClick={() => setChosen(r.number)}
              className={`flex min-h-9 w-full items-baseline gap-3 px-4 py-1.5 text-start ${r.number === shown?.number ? 'bg-selectwash' : 'hover:bg-sheet2'}`}
            >
              <b>Revision {r.number}</b>
              {r.number === liveNumber && <span className="text-good">live</span>}
              <span className="ms-auto text-soft">
                {r.publishedBy}, {day(r.publishedAt)}, {clock(r.publishedAt)}
              </span>
            </button>
          </li>
        ))}
      </ul>
      {shown && (
        <section aria-label={`Revision ${shown.number} against the draft`} className="p-4">
          <h3 className="mb-2 font-sans text-[13px] font-semibold tracking-normal">
            From revision {shown.number} to the draft as it stands
          </h3>
          {children(shown.content)}
        </section>
      )}
    </Panel>
  );
}
