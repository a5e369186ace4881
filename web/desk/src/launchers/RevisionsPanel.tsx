import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { Names } from '../callouts/model';
import { clock, day } from '../lib/time';
import { useDesk } from '../session/desk';
import { Button } from '../ui/Button';
import { Panel, Refused } from '../ui/Panel';
import { type Launcher, type LauncherBrief, launcherRevisionsQuery } from './api';
import { changesOf } from './words';

/** What was live before, what differs from the draft, and the way back to it. */
export function RevisionsPanel({
  launcher,
  draft,
  names,
  mayEdit,
  onRestore,
  onClose,
}: {
  launcher: Launcher;
  draft: LauncherBrief;
  names: Names;
  mayEdit: boolean;
  onRestore(content: LauncherBrief): void;
  onClose(): void;
}) {
  const { site } = useDesk();
  const revisions = useQuery(launcherRevisionsQuery(site.id, launcher.id));
  const [chosen, setChosen] = useState<number>();
  const list = revisions.data ?? [];
  const shown = list.find((r) => r.number === (chosen ?? list[0]?.number));
  const changes = shown ? changesOf(draft, shown.content, names) : [];
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
            <Button disabled={changes.length === 0} onClick={() => onRestore(shown.content)}>
              Bring revision {shown.number} back as the draft
            </Button>
            <span className="text-[12px] text-soft">Ctrl Z undoes it.</span>
          </>
        )
      }
    >
      {revisions.isPending && <p className="p-4 text-soft">Fetching the revisions</p>}
      <Refused error={revisions.error} />
      {revisions.data && list.length === 0 && <p className="p-4 text-soft">It was never published.</p>}
      <ul className="border-b border-ink">
        {list.map((r) => (
          <li key={r.number} className="border-b border-hair last:border-0">
            <button
              type="button"
              aria-pressed={r.number === shown?.number}
              onClick={() => setChosen(r.number)}
              className={`flex min-h-9 w-full items-baseline gap-3 px-4 py-1.5 text-start ${r.number === shown?.number ? 'bg-selectwash' : 'hover:bg-sheet2'}`}
            >
              <b>Revision {r.number}</b>
              <span className="text-soft">
                {day(r.publishedAt)} {clock(r.publishedAt)}, {r.publishedBy}
              </span>
            </button>
          </li>
        ))}
      </ul>
      {shown && (
        <div className="grid gap-1 p-4">
          {changes.length === 0 && <p className="text-soft">The draft reads as this revision did.</p>}
          {changes.map(({ part, was, is }) => (
            <p key={part}>
              <b>{part}</b> {was === undefined && is === undefined ? 'differs' : ''} {was && <del className="text-soft">{was}</del>} {is}
            </p>
          ))}
        </div>
      )}
    </Panel>
  );
}
