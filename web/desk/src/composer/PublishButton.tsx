import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { changedPhrases, readBrief } from '../brief/model';
import type { Callout } from '../brief/types';
import { useNames } from '../brief/useNames';
import { calloutQuery, switchCallout } from '../callouts/api';
import { publicationQuery, publish } from '../callouts/publishing';
import { useChange } from '../callouts/useChange';
import { Button } from '../kit/Button';
import { Refused } from '../kit/Panel';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { stripQuery } from '../strip/api';

/** Putting a draft live: one deliberate act that first lists what changes and what stands in the way. */
export function PublishButton({
  callout,
  settle,
  onDraft,
}: {
  callout: Callout;
  settle(): Promise<number>;
  /** Takes a change of this draft that is offered against a clash. */
  onDraft(brief: Callout['draft']): void;
}) {
  const { site, member } = useDesk();
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const [note, setNote] = useState<string>();
  const changes = changedPhrases(callout.draft, callout.live);
  const strip = useQuery({ ...stripQuery(site.id), enabled: open });
  const blocking = callout.problems.filter((p) => p.blocks);
  const allowed = mayAct(member, 'publish');
  const nothing = allowed && callout.state === 'live' && callout.live !== null && changes.length === 0;
  const took = (saved: Callout) => {
    queries.setQueryData(calloutQuery(site.id, callout.id).queryKey, saved);
    void queries.invalidateQueries({ queryKey: ['callouts'] });
    setOpen(false);
    setNote(saved.state === 'live' ? `Live as revision ${saved.revision}.` : 'Paused. Open pages follow within 30 seconds.');
  };
  const go = useMutation({ mutationFn: async () => publish(site.id, callout.id, await settle()), onSuccess: took });
  const pause = useMutation({
    mutationFn: () => switchCallout(site.id, callout.id, callout.state === 'live' ? 'pause' : 'resume'),
    onSuccess: took,
  });
  return (
    <>
      <span role="status" className="text-[12px] font-semibold text-good">
        {note}
      </span>
      {allowed && (callout.state === 'live' || (callout.state === 'paused' && callout.revision > 0)) && (
        <Button onClick={() => pause.mutate()} disabled={pause.isPending}>
          {callout.state === 'live' ? 'Pause' : 'Resume'}
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
            className="z-50 max-h-[80vh] w-[460px] max-w-[calc(100vw-16px)] overflow-auto rounded border border-ink bg-sheet p-4 shadow-lg"
            aria-label="Publish"
          >
            {!allowed ? (
              <p>Your role may draft. Publishers and owners put callouts live; ask one of them to look at this one.</p>
            ) : (
              <div className="grid gap-3">
                <h2 className="text-[17px] leading-6">{callout.revision === 0 ? 'Publish' : `Publish revision ${callout.revision + 1}`}</h2>
                {strip.data && !strip.data.heardAt && (
                  <p className="font-semibold text-warn">
                    The snippet has never been heard on this site, so nobody will see it yet.{' '}
                    <Link to="/install" className="underline">
                      Install it
                    </Link>
                  </p>
                )}
                {blocking.map((p) => (
                  <p key={p.message} className="text-bad">
                    {p.message}
                  </p>
                ))}
                {callout.live && <Changes callout={callout} changes={changes} />}
                {callout.untouchedWording && <p className="text-warn">You have not changed the starter words.</p>}
                {callout.draft.where.includes.length + callout.draft.where.groups.length === 0 && (
                  <p className="text-warn">No page is named, so it shows on every page but the quiet ones.</p>
                )}
                {open && <Consequences callout={callout} onDraft={onDraft} />}
                <p className="text-[12px] leading-4 text-soft">
                  New page views see it at once. Pages that are open now keep what they have until the visitor goes on.
                </p>
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

/** What would follow on every kind of page, and what could be done about the clashes, each played before it is offered. */
function Consequences({ callout, onDraft }: { callout: Callout; onDraft(brief: Callout['draft']): void }) {
  const { site } = useDesk();
  const queries = useQueryClient();
  const { data, error, isFetching } = useQuery(publicationQuery(site.id, callout.id, callout.draftVersion));
  const other = useChange();
  if (error) return <Refused error={error} />;
  if (!data) return <p className="text-soft">Rehearsing every kind of page with it</p>;
  return (
    <div className={`grid gap-3 border-t border-hair pt-3 ${isFetching ? 'opacity-70' : ''}`}>
      <div>
        <h3 className="font-sans text-[13px] font-semibold tracking-normal">For a new visitor</h3>
        {data.effects.length === 0 ? (
          <p className="text-soft">No change in timing on any page seen in the last 30 days.</p>
        ) : (
          <ul className="max-h-[140px] overflow-auto">
            {data.effects.map((effect) => (
              <li key={effect}>{effect}.</li>
            ))}
          </ul>
        )}
      </div>
      {data.clashes.map((clash) => (
        <div key={`${clash.group}:${clash.sentence}`} className="grid gap-1.5 border-s-[3px] border-bad ps-3">
          <p>
            <b className="text-bad">{clash.isNew ? 'New clash' : 'Clash, as today'}</b> on {clash.group}. {clash.sentence}
          </p>
          {clash.mends.map((mend) => (
            <div key={mend.trying} className="grid gap-0.5">
              <Button
                className="justify-self-start !whitespace-normal !text-start leading-4"
                disabled={other.isPending}
                onClick={() =>
                  mend.calloutId === callout.id
                    ? onDraft(mend.brief)
                    : other.mutate(
                        { calloutId: mend.calloutId, brief: mend.brief, into: 'live' },
                        { onSuccess: () => void queries.invalidateQueries({ queryKey: ['rehearsal'] }) },
                      )
                }
              >
                {mend.sentence}
                {mend.calloutId !== callout.id && ', live at once'}
              </Button>
              {mend.warnings.map((w) => (
                <span key={w} className="text-[12px] leading-4 text-warn">
                  {w}
                </span>
              ))}
              {mend.effects.length > 0 && <span className="text-[12px] leading-4 text-soft">{mend.effects.join('; ')}.</span>}
            </div>
          ))}
          <Refused error={other.error} />
        </div>
      ))}
    </div>
  );
}

/** Phrases whose words may stay the same while what is behind them changes. */
const SETTLED: Record<string, string> = { 'from.sources': 'The order behind', 'when.schedule': 'What is behind' };

function Changes({ callout, changes }: { callout: Callout; changes: string[] }) {
  const names = useNames();
  if (changes.length === 0) return <p className="text-soft">Nothing differs from the live revision.</p>;
  const words = (brief: Callout['draft'], key: string) =>
    readBrief(brief, names)
      .flatMap((s) => s.parts)
      .find((p) => typeof p !== 'string' && p.key === key);
  const say = (part: ReturnType<typeof words>) => (part && typeof part !== 'string' ? part.words : 'nothing');
  return (
    <ul className="grid gap-1">
      {changes.map((key) =>
        say(words(callout.live ?? callout.draft, key)) === say(words(callout.draft, key)) ? (
          <li key={key}>
            {SETTLED[key] ?? 'Something behind'} “{say(words(callout.draft, key))}” is changed.
          </li>
        ) : (
          <li key={key}>
            <del className="text-soft">{say(words(callout.live ?? callout.draft, key))}</del> becomes{' '}
            <ins className="font-semibold no-underline">{say(words(callout.draft, key))}</ins>
          </li>
        ),
      )}
    </ul>
  );
}
