import { useMutation, useQuery } from '@tanstack/react-query';
import { Link, useNavigate } from '@tanstack/react-router';
import { Button } from '../kit/Button';
import { Panel, Refused, Section } from '../kit/Panel';
import { ago, clock, day, pageClock } from '../kit/time';
import { useNow } from '../kit/useNow';
import { useDesk } from '../session/desk';
import { fetchJourney } from '../visits/api';
import { trimmed } from '../visits/model';
import { visitorQuery } from './api';
import { VisitorLine } from './VisitorLine';

/** A visitor's history: visits page by page, what was met, what was done. */
export function VisitorPanel({ visitorId, onClose }: { visitorId: string; onClose(): void }) {
  const { site } = useDesk();
  const now = useNow(30_000);
  const navigate = useNavigate();
  const history = useQuery(visitorQuery(site.id, visitorId));
  const rehearse = useMutation({
    mutationFn: (visit: number) => fetchJourney(site.id, visitorId, visit),
    onSuccess: (found) => void navigate({ to: '/rehearsal', search: { visitor: trimmed(found.visitor), pages: found.pages } }),
  });
  const data = history.data;
  return (
    <Panel
      label="A visitor's history"
      title={<code className="font-mono text-[15px]">{visitorId.slice(0, 6)}</code>}
      wide
      onClose={onClose}
    >
      <Refused error={history.error ?? rehearse.error} />
      {history.isPending && <p className="p-4 text-soft">Fetching the history</p>}
      {data && (
        <>
          <Section>
            <p>
              <VisitorLine visitor={data.visitor} now={now} />
            </p>
            {data.segments.length > 0 && <p>In {data.segments.join(', ')}.</p>}
            {Object.entries(data.attributes).length > 0 && (
              <p className="text-soft">
                The page said:{' '}
                {Object.entries(data.attributes)
                  .map(([k, v]) => `${k} ${v}`)
                  .join(', ')}
                .
              </p>
            )}
          </Section>
          {data.did.length > 0 && (
            <Section title="Did">
              <ul>
                {data.did.map((d) => (
                  <li key={d.eventId} className="py-0.5">
                    <Link to="/ledger" search={{ panel: 'event', event: d.eventId }} className="text-cobalt hover:underline">
                      {d.kind}
                      {d.about && `, ${d.about}`}
                    </Link>{' '}
                    <span className="text-soft">
                      {day(d.at)}, {clock(d.at)}
                    </span>
                  </li>
                ))}
              </ul>
            </Section>
          )}
          {data.met.length > 0 && (
            <Section title="Met">
              <ul>
                {data.met.map((m) => (
                  <li key={m.calloutId} className="flex gap-2 py-0.5">
                    <Link to="/callouts/$calloutId" params={{ calloutId: m.calloutId }} className="flex-1 text-cobalt hover:underline">
                      {m.name}
                    </Link>
                    <span className="text-soft">
                      {m.visits === 1 ? 'in one visit' : `in ${m.visits} visits`}, {ago(m.lastAt, now)}
                      {m.closedAt && ', closed'}
                      {m.clickedAt && ', clicked'}
                    </span>
                  </li>
                ))}
              </ul>
            </Section>
          )}
          {data.visits.map((visit) => (
            <Section
              key={visit.number}
              title={
                <span className="flex items-center gap-2">
                  Visit {visit.number}{' '}
                  <span className="font-normal text-soft">
                    {day(visit.at)}, {clock(visit.at)}
                    {visit.referrer && `, from ${visit.referrer}`}
                  </span>
                  <Button className="ms-auto" disabled={rehearse.isPending} onClick={() => rehearse.mutate(visit.number)}>
                    Rehearse it
                  </Button>
                </span>
              }
            >
              <ol>
                {visit.pages.map((p) => (
                  <li key={`${p.at}:${p.path}`} className="flex items-baseline gap-3 border-t border-hair py-1">
                    <span className="w-10 flex-none text-soft">{clock(p.at)}</span>
                    <code className="min-w-0 flex-1 truncate font-mono text-[12.5px]">{p.path}</code>
                    <span className="text-soft">
                      {p.stayMs > 0 ? pageClock(p.stayMs) : 'left unheard'}
                      {p.depthPercent > 0 && `, to ${p.depthPercent} %`}
                    </span>
                  </li>
                ))}
              </ol>
            </Section>
          ))}
        </>
      )}
    </Panel>
  );
}
