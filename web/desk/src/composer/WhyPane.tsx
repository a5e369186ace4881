import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { ControlLink } from '../callouts/ReasonLine';
import { Button } from '../kit/Button';
import { Refused } from '../kit/Panel';
import { useDesk } from '../session/desk';
import { whyQuery } from './api';

/** "Why is it not showing?", answered by rehearsing new and returning visitors on the callout's busiest pages. */
export function WhyPane({ calloutId, version }: { calloutId: string; version: number }) {
  const { site } = useDesk();
  const [asked, setAsked] = useState(false);
  const why = useQuery({ ...whyQuery(site.id, calloutId, version), enabled: asked });
  const shown = why.data ? Math.round(why.data.shownShare * 100) : 0;
  return (
    <section aria-label="Why is it not showing?" className="flex-none border-t border-strong pt-2 pb-1">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <h2 className="text-[15px] leading-6">Why is it not showing?</h2>
        <span className="text-soft">Rehearses new and returning visitors on its busiest pages.</span>
        <Button className="ms-auto" disabled={why.isFetching} onClick={() => (asked ? void why.refetch() : setAsked(true))}>
          {why.isFetching ? 'Asking' : 'Ask'}
        </Button>
      </div>
      <Refused error={why.error} />
      {why.data && (
        <div role="status">
          <p className="py-1">
            {shown === 100 && <>It shows for all of them. If you see nothing yourself, start a trial visit as one of them.</>}
            {shown < 100 && shown > 0 && <>It shows in {shown} % of page views there. In the rest:</>}
            {shown === 0 && <>It shows for none of them:</>}
          </p>
          <ol>
            {why.data.reasons.map((r) => (
              <li key={r.sentence} className="grid grid-cols-[44px_minmax(0,1fr)_auto] items-baseline gap-3 border-t border-hair py-1.5">
                <span className="text-end font-semibold">{r.share < 0.01 ? '<1' : Math.round(r.share * 100)} %</span>
                <span>
                  {r.sentence}{' '}
                  <span className="text-[12px] text-soft">
                    As for {r.who} on <code className="font-mono">{r.path}</code>.
                  </span>
                </span>
                <ControlLink place={r.control} calloutId={calloutId} />
              </li>
            ))}
          </ol>
        </div>
      )}
    </section>
  );
}
