import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { Refusal } from '../lib/api';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { Button } from '../ui/Button';
import { fetchLauncher, type Launcher, launcherQuery, moveLauncher, publishLauncher } from './api';

/** Putting a launcher live: one deliberate act that first lists what changes and what stands in the way. */
export function PublishLauncher({
  launcher,
  changes,
  settle,
}: {
  launcher: Launcher;
  changes: readonly { part: string; was?: string; is?: string }[];
  settle(): Promise<number>;
}) {
  const { site, member } = useDesk();
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const [note, setNote] = useState<string>();
  const allowed = mayAct(member, 'publish');
  const blocking = launcher.problems.filter((p) => p.blocks);
  const hints = launcher.problems.filter((p) => !p.blocks);
  const nothing = allowed && launcher.state === 'live' && launcher.live !== null && changes.length === 0;
  const took = (saved: Launcher) => {
    queries.setQueryData(launcherQuery(site.id, launcher.id).queryKey, saved);
    void queries.invalidateQueries({ queryKey: ['launchers'] });
    setOpen(false);
    setNote(saved.state === 'live' ? `Live as revision ${saved.revision}.` : 'Paused. New page views have it no more.');
  };
  const go = useMutation({ mutationFn: async () => publishLauncher(site.id, launcher.id, await settle()), onSuccess: took });
  const pause = useMutation({
    mutationFn: async () => {
      await moveLauncher(site.id, launcher.id, launcher.state === 'live' ? 'pause' : 'resume');
      return fetchLauncher(site.id, launcher.id);
    },
    onSuccess: took,
  });
  const refusal = [go.error, pause.error].find((e) => e instanceof Refusal);
  return (
    <>
      <span role="status" className="text-[12px] font-semibold text-good">
        {note}
      </span>
      {allowed && (launcher.state === 'live' || (launcher.state === 'paused' && launcher.revision > 0)) && (
        <Button onClick={() => pause.mutate()} disabled={pause.isPending}>
          {launcher.state === 'live' ? 'Pause' : 'Resume'}
        </Button>
      )}
      <Popover.Root open={open} onOpenChange={setOpen}>
        <Popover.Trigger asChild>
          <Button
            kind="primary"
            disabled={nothing}
            title={nothing ? 'Nothing differs from what is live' : undefined}
            onClick={() => setNote(undefined)}
          >
            Publish
            {changes.length > 0 && (
              <span className="rounded-sm bg-marigold px-1.5 text-[12px] leading-5 text-ink">
                {changes.length} {changes.length === 1 ? 'change' : 'changes'}
              </span>
            )}
          </Button>
        </Popover.Trigger>
        <Popover.Portal>
          <Popover.Content
            align="end"
            sideOffset={6}
            aria-label="Publish"
            className="z-50 max-h-[80vh] w-[460px] max-w-[calc(100vw-16px)] overflow-auto rounded border border-ink bg-sheet p-4 shadow-lg"
          >
            {!allowed ? (
              <p>Your role may draft. Publishers and owners put launchers live; ask one of them to look at this one.</p>
            ) : (
              <div className="grid gap-3">
                <h2 className="text-[17px] leading-6">
                  {launcher.revision === 0 ? 'Publish' : `Publish revision ${launcher.revision + 1}`}
                </h2>
                {blocking.map((p) => (
                  <p key={`${p.field}:${p.message}`} className="text-bad">
                    {p.message}
                  </p>
                ))}
                {hints.map((p) => (
                  <p key={`${p.field}:${p.message}`} className="text-warn">
                    {p.message}
                  </p>
                ))}
                {launcher.live && (
                  <ul className="grid gap-1">
                    {changes.length === 0 && <li className="text-soft">Nothing differs from the live revision.</li>}
                    {changes.map(({ part, was, is }) => (
                      <li key={part}>
                        {was === undefined && is === undefined ? (
                          `${part} changed.`
                        ) : (
                          <>
                            <b>{part}:</b> {was && <del className="text-soft">{was}</del>}{' '}
                            {is ? <ins className="no-underline">{is}</ins> : 'taken out'}
                          </>
                        )}
                      </li>
                    ))}
                  </ul>
                )}
                {launcher.draft.where.includes.length + launcher.draft.where.groups.length + launcher.draft.where.excludes.length === 0 && (
                  <p className="text-warn">No page is left out, so it stands on checkout, too.</p>
                )}
                <p className="text-[12px] leading-4 text-soft">
                  New page views have it at once. Pages that are open now keep what they have.
                </p>
                {refusal && (
                  <p role="alert" className="text-bad">
                    {refusal.message}
                  </p>
                )}
                <div className="flex justify-end gap-2">
                  <Popover.Close asChild>
                    <Button>Cancel</Button>
                  </Popover.Close>
                  <Button kind="primary" disabled={blocking.length > 0 || go.isPending} onClick={() => go.mutate()}>
                    {go.isPending ? 'Publishing' : 'Publish now'}
                  </Button>
                </div>
              </div>
            )}
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
    </>
  );
}
