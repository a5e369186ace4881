import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { Button } from '../kit/Button';
import { SelectField } from '../kit/Field';
import { useRefusal, Wrong } from '../session/Door';
import { useDesk } from '../session/desk';
import { askForReview, publishersQuery, reviewsQuery, withdrawReview } from './api';

/** Asks a publisher for a second look at a draft; while one is asked for, says how it stands. */
export function AskForReview({
  definitionId,
  differs,
  settle,
}: {
  definitionId: string;
  /** Whether there is anything to look at: something that is not live as it is. */
  differs: boolean;
  settle(): Promise<number>;
}) {
  const { site, workspace, member } = useDesk();
  const queries = useQueryClient();
  const reviews = useQuery(reviewsQuery(site.id));
  const [open, setOpen] = useState(false);
  const team = useQuery({ ...publishersQuery(workspace.id), enabled: open });
  const [of, setOf] = useState('');
  const refusal = useRefusal();
  const review = reviews.data?.find((r) => r.definitionId === definitionId);
  const again = () => queries.invalidateQueries({ queryKey: ['reviews', site.id] });
  const publishers = (team.data?.members ?? []).filter((m) => (m.role === 'owner' || m.role === 'publisher') && m.id !== member.id);
  if (review)
    return (
      <span className="flex items-center gap-2">
        <span role="status" className={`font-semibold ${review.isApproved ? 'text-good' : 'text-who-deep'}`}>
          {review.isApproved ? `Approved by ${review.decidedBy}` : `In review${review.of ? ` with ${review.of}` : ''}`}
          {review.undoneBy && <span className="font-normal text-warn">; {review.undoneBy} edited it, so the approval is gone</span>}
        </span>
        <Button kind="link" onClick={() => void withdrawReview(site.id, review.id).then(again)}>
          Take it back
        </Button>
      </span>
    );
  if (!differs) return null;
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <Button className="max-sm:hidden">Ask for a review</Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={6}
          aria-label="Ask for a review"
          className="z-50 w-[360px] max-w-[calc(100vw-16px)] rounded border border-ink bg-sheet p-4 shadow-lg"
        >
          <form
            noValidate
            className="grid gap-3"
            onSubmit={refusal.run(async (text) => {
              await settle();
              await askForReview(site.id, definitionId, of || null, text('sentence'));
              setOpen(false);
              await again();
            })}
          >
            <h2 className="text-[17px] leading-6">Ask for a review</h2>
            <SelectField
              label="Who"
              value={of}
              choices={[['', 'any publisher'] as const, ...publishers.map((m) => [m.id, m.name] as const)]}
              onChoose={setOf}
            />
            <label className="grid gap-1">
              <span className="font-semibold">What they should know</span>
              <textarea name="sentence" rows={2} maxLength={400} placeholder="Is the promise sound?" className="w-full" />
            </label>
            <p className="text-[12px] leading-4 text-soft">
              They get a mail. You can go on editing; an edit takes an approval away, and says so.
            </p>
            <Wrong>{refusal.other([])}</Wrong>
            <p className="flex justify-end gap-2">
              <Popover.Close asChild>
                <Button>Cancel</Button>
              </Popover.Close>
              <Button kind="primary" type="submit" disabled={refusal.busy}>
                Ask
              </Button>
            </p>
          </form>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
