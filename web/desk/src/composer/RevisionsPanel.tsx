import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { Brief, Callout } from '../callouts/api';
import { Diff } from '../callouts/Diff';
import { compareBriefs } from '../callouts/revisionDiff';
import { useNames } from '../callouts/useNames';
import { clock, day } from '../lib/time';
import { useDesk } from '../session/desk';
import { Button } from '../ui/Button';
import { Panel, Refused } from '../ui/Panel';
import { revisionsQuery } from './api';

/** What was live before, how it reads against the draft word by word, and the way back to it. */
export function RevisionsPanel({
  callout,
  draft,
  mayEdit,
  onRestore,
  onClose,
}: {
  callout: Callout;
  draft: Brief;
  mayEdit: boolean;
  onRestore(brief: Brief): void;
  onClose(): void;
}) {
  const { site } = useDesk();
  const names = useNames();
  const revisions = useQuery(revisionsQuery(site.id, callout.id));
  const [chosen, setChosen] = useState<number>();
  const list = revisions.data ?? [];
  const shown = list.find((r) => r.number === (chosen ?? list[0]?.number));
  const content = shown?.content;
  const diffs = content ? compareBriefs(content, draft, names) : [];
  const hidden = content && diffs.length === 0 && JSON.stringify(content) !== JSON.stringify(draft);
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
            <Button disabled={diffs.length === 0 && !hidden} onClick={() => content && onRestore(content)}>
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
      {list.length > 0 && (
        <>
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
                  {r.number === callout.revision && callout.state === 'live' && <span className="text-good">live</span>}
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
              {diffs.length === 0 && (
                <p className="text-soft">
                  {hidden ? 'They read the same; something behind a phrase differs.' : 'The draft says what this revision says.'}
                </p>
              )}
              {diffs.map((diff) => (
                <Diff key={diff.facet} diff={diff} />
              ))}
            </section>
          )}
        </>
      )}
    </Panel>
  );
}
