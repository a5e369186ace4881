import { useChange } from '../callouts/useChange';
import type { Schema } from '../data/api';
import { Button } from '../kit/Button';
import { Refused } from '../kit/Panel';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';

/** A change that is being tried out: what it is, what it does to the sheet, and what is to become of it. */
export function TrialBar({ trial, onDone }: { trial: Schema<'TrialChangeView'>; onDone(): void }) {
  const { member } = useDesk();
  const change = useChange();
  const settle = (into: 'live' | 'draft') => change.mutate({ calloutId: trial.calloutId, brief: trial.brief, into }, { onSuccess: onDone });
  return (
    <section
      aria-label="A change tried out"
      className="flex flex-none flex-wrap items-center gap-x-4 gap-y-2 border-t border-ink bg-goldwash px-4 py-2"
      onKeyDown={(event) => {
        if (event.key === 'Escape') onDone();
      }}
    >
      <div role="status" className="min-w-0 flex-1">
        <b>Tried out, not live:</b> {trial.sentence}, “{trial.name}”.{' '}
        <span className="text-soft">
          {trial.effects.length === 0 ? 'Nothing else on the sheet changes.' : `${trial.effects.slice(0, 4).join('; ')}.`}
          {trial.effects.length > 4 && ` And ${trial.effects.length - 4} more.`}
        </span>
        <Refused error={change.error} />
      </div>
      {mayAct(member, 'publish') && (
        <Button kind="primary" disabled={change.isPending} onClick={() => settle('live')}>
          Publish it
        </Button>
      )}
      {mayAct(member, 'draft') && (
        <Button disabled={change.isPending} onClick={() => settle('draft')}>
          Keep it in the draft
        </Button>
      )}
      <Button kind="link" onClick={onDone}>
        Back to what is live
      </Button>
    </section>
  );
}
