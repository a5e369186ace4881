import { useMutation } from '@tanstack/react-query';
import { Popover } from 'radix-ui';
import { type ReactNode, useState } from 'react';
import { Button } from '../kit/Button';
import { Refused } from '../kit/Panel';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { ChangeList } from './ChangeList';
import type { Change } from './changes';

/** What publishing asks of a definition, of whatever kind. */
export interface Publishable {
  state: 'draft' | 'live' | 'paused' | 'archived';
  revision: number;
  live: unknown;
  problems: readonly { field: string; message: string; blocks: boolean }[];
}

/** Putting something live: one deliberate act that first lists what changes and what stands in the way. */
export function PublishDefinition<T extends Publishable>({
  noun,
  definition,
  changes,
  pausedNote,
  publish,
  turn,
  onTaken,
  children,
}: {
  /** What it is, as one says it of several: "launchers". */
  noun: string;
  definition: T;
  changes: readonly Change[];
  /** What follows from its being paused. */
  pausedNote: string;
  publish(): Promise<T>;
  /** Pauses what is live, resumes what is paused. */
  turn(): Promise<T>;
  onTaken(saved: T): void;
  /** What else is to be known before it goes live. */
  children: ReactNode;
}) {
  const { member } = useDesk();
  const [open, setOpen] = useState(false);
  const [note, setNote] = useState<string>();
  const allowed = mayAct(member, 'publish');
  const blocking = definition.problems.filter((p) => p.blocks);
  const hints = definition.problems.filter((p) => !p.blocks);
  const nothing = allowed && definition.state === 'live' && definition.live !== null && changes.length === 0;
  const took = (saved: T) => {
    onTaken(saved);
    setOpen(false);
    setNote(saved.state === 'live' ? `Live as revision ${saved.revision}.` : pausedNote);
  };
  const go = useMutation({ mutationFn: publish, onSuccess: took });
  const pause = useMutation({ mutationFn: turn, onSuccess: took });
  return (
    <>
      <span role="status" className="text-[12px] font-semibold text-good">
        {note}
      </span>
      {allowed && (definition.state === 'live' || (definition.state === 'paused' && definition.revision > 0)) && (
        <Button onClick={() => pause.mutate()} disabled={pause.isPending}>
          {definition.state === 'live' ? 'Pause' : 'Resume'}
        </Button>
      )}
      <Refused error={pause.error} />
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
              <p>Your role may draft. Publishers and owners put {noun} live; ask one of them to look at this one.</p>
            ) : (
              <div className="grid gap-3">
                <h2 className="text-[17px] leading-6">
                  {definition.revision === 0 ? 'Publish' : `Publish revision ${definition.revision + 1}`}
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
                {definition.live !== null && <ChangeList changes={changes} none="Nothing differs from the live revision." />}
                {children}
                <Refused error={go.error} />
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
