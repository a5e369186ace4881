import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { CircleCheck, MessageSquareText } from 'lucide-react';
import { useState } from 'react';
import { Diff } from '../brief/Diff';
import { allNew, compareBriefs } from '../brief/revisionDiff';
import { useNames } from '../brief/useNames';
import { calloutQuery } from '../callouts/api';
import { publicationQuery, publish } from '../callouts/publishing';
import { say } from '../data/toasts';
import { Button } from '../kit/Button';
import { Failed, Waiting } from '../kit/Notice';
import { Refused } from '../kit/Panel';
import { clock, day } from '../kit/time';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { approve, note, type Review, reviewsQuery, sendBack } from './api';
import { publishLauncherDraft } from './launchers';

/** What waits for a second look, each as the words that differ. */
export function ReviewView() {
  const { site } = useDesk();
  const reviews = useQuery(reviewsQuery(site.id));
  if (reviews.isError) return <Failed error={reviews.error} again={() => void reviews.refetch()} />;
  if (!reviews.data) return <Waiting>Fetching what waits</Waiting>;
  if (reviews.data.length === 0)
    return (
      <div className="grid max-w-[560px] gap-2 p-4">
        <p className="font-display text-[16px] leading-[26px]">Nothing waits for a second look.</p>
        <p className="text-soft">Whoever drafts a callout or a launcher can ask for one at its top; it stands here until it is decided.</p>
      </div>
    );
  return (
    <section aria-label="Review">
      {reviews.data.map((review) => (
        <Card key={review.id} review={review} />
      ))}
    </section>
  );
}

function Card({ review }: { review: Review }) {
  const { site, member } = useDesk();
  const queries = useQueryClient();
  const [saying, setSaying] = useState<'note' | 'back'>();
  const [text, setText] = useState('');
  const again = async () => {
    await queries.invalidateQueries({ queryKey: ['reviews', site.id] });
    for (const key of ['callouts', 'callout', 'launchers', 'launcher']) void queries.invalidateQueries({ queryKey: [key] });
  };
  const decide = useMutation({
    mutationFn: async (act: 'approve' | 'publish' | 'note' | 'back') => {
      if (act === 'approve') await approve(site.id, review.id, review.draftVersion);
      else if (act === 'note') await note(site.id, review.id, '', text);
      else if (act === 'back') await sendBack(site.id, review.id, text);
      else if (review.kind === 'callout') await publish(site.id, review.definitionId, review.draftVersion);
      else await publishLauncherDraft(site.id, review.definitionId, review.draftVersion);
      return act;
    },
    onSuccess: async (act) => {
      setSaying(undefined);
      setText('');
      await again();
      if (act === 'publish') say(`${review.name} is live.`);
    },
  });
  const publishes = mayAct(member, 'publish');
  return (
    <article aria-label={review.name} className="grid gap-2 border-b border-ink p-4">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <CircleCheck className="h-4 w-4 flex-none" aria-hidden="true" />
        <h2 className="text-[17px] leading-6">
          {review.kind === 'callout' ? (
            <Link to="/callouts/$calloutId" params={{ calloutId: review.definitionId }} className="hover:underline">
              {review.name}
            </Link>
          ) : (
            <Link to="/launchers/$launcherId" params={{ launcherId: review.definitionId }} className="hover:underline">
              {review.name}
            </Link>
          )}
        </h2>
        <span className="text-soft">
          {review.kind}
          {review.revision > 0 ? `, revision ${review.revision + 1}` : ', new'}
        </span>
        <span className="text-soft">
          {review.askedBy} asked {review.of ?? 'any publisher'} {day(review.askedAt)}, {clock(review.askedAt)}
          {review.sentence && `: “${review.sentence}”`}
        </span>
        {publishes && (
          <span className="ms-auto flex gap-2">
            <Button onClick={() => setSaying(saying === 'back' ? undefined : 'back')} aria-expanded={saying === 'back'}>
              Send back
            </Button>
            {review.mayApprove && !review.isApproved && (
              <Button onClick={() => decide.mutate('approve')} disabled={decide.isPending}>
                Approve
              </Button>
            )}
            {(review.mayApprove || review.isApproved) && (
              <Button kind="primary" onClick={() => decide.mutate('publish')} disabled={decide.isPending}>
                {review.isApproved ? 'Publish' : 'Approve and publish'}
              </Button>
            )}
          </span>
        )}
      </div>
      {review.isApproved && <p className="font-semibold text-good">Approved by {review.decidedBy}, as it stands now.</p>}
      {review.undoneBy && <p className="text-warn">It was approved; {review.undoneBy} edited it since, so it has to be looked at again.</p>}
      {publishes && !review.mayApprove && !review.isApproved && (
        <p className="text-soft">You wrote some of it, so somebody else is the second person.</p>
      )}
      {review.kind === 'callout' ? <CalloutWords review={review} /> : <Changes review={review} />}
      {review.notes.map((n) => (
        <p key={`${n.at}${n.by}`} className="flex items-start gap-2 rounded border border-dashed border-marigold bg-goldwash px-3 py-2">
          <MessageSquareText className="mt-0.5 h-4 w-4 flex-none" aria-hidden="true" />
          <span>
            <strong>{n.by}:</strong> {n.text} <span className="text-soft">{clock(n.at)}</span>
          </span>
        </p>
      ))}
      {saying ? (
        <form
          className="grid gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            decide.mutate(saying);
          }}
        >
          <label className="grid gap-1">
            <span className="font-semibold">{saying === 'back' ? 'What is to change' : 'Note'}</span>
            <textarea rows={2} maxLength={400} value={text} onChange={(e) => setText(e.currentTarget.value)} className="w-full" />
          </label>
          <p className="flex gap-2">
            <Button type="submit" kind="primary" disabled={!text.trim() || decide.isPending}>
              {saying === 'back' ? 'Send it back' : 'Add the note'}
            </Button>
            <Button onClick={() => setSaying(undefined)}>Cancel</Button>
          </p>
        </form>
      ) : (
        mayAct(member, 'draft') && (
          <p>
            <Button kind="link" onClick={() => setSaying('note')}>
              {review.notes.length > 0 ? 'Answer' : 'Add a note'}
            </Button>
          </p>
        )
      )}
      <Refused error={decide.error} />
    </article>
  );
}

/** A callout's sentences as they were and are to be, and what would follow. */
function CalloutWords({ review }: { review: Review }) {
  const { site } = useDesk();
  const names = useNames();
  const callout = useQuery(calloutQuery(site.id, review.definitionId));
  const follows = useQuery(publicationQuery(site.id, review.definitionId, review.draftVersion));
  if (!callout.data) return callout.isError ? <Refused error={callout.error} /> : <Waiting>Reading the brief</Waiting>;
  const { live, draft } = callout.data;
  const diffs = live ? compareBriefs(live, draft, names) : allNew(draft, names);
  const clashes = follows.data?.clashes.filter((c) => c.isNew) ?? [];
  const wrong = callout.data.problems.filter((p) => p.field.startsWith('look'));
  return (
    <>
      {diffs.length === 0 && <p className="text-soft">It reads as what is live.</p>}
      {diffs.map((diff) => (
        <Diff key={diff.facet} diff={diff} />
      ))}
      <p className="flex flex-wrap gap-x-5 text-[12px] leading-5">
        <span>
          Clashes <strong className={clashes.length > 0 ? 'text-bad' : ''}>{follows.data ? clashes.length || 'none new' : '…'}</strong>
        </span>
        {follows.data?.effects[0] && <span>{follows.data.effects[0]}</span>}
        {wrong.map((p) => (
          <span key={p.message} className="text-warn">
            {p.message}
          </span>
        ))}
        <Link
          to="/callouts/$calloutId"
          params={{ calloutId: review.definitionId }}
          className="ms-auto font-semibold text-cobalt hover:underline"
        >
          See it on the stage
        </Link>
      </p>
    </>
  );
}

function Changes({ review }: { review: Review }) {
  if (review.changes.length === 0) return <p className="text-soft">It was never live: all of it is new.</p>;
  return (
    <ul className="grid gap-1">
      {review.changes.map((c) => (
        <li key={c.what}>
          <span className="text-soft">{c.what}</span> {c.before && <del className="bg-badwash px-0.5 text-bad">{c.before}</del>}{' '}
          {c.after && <ins className="bg-who px-0.5 text-who-deep no-underline">{c.after}</ins>}
        </li>
      ))}
    </ul>
  );
}
