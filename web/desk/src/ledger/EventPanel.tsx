import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { Check, MapPin, X } from 'lucide-react';
import { type FormEvent, useState } from 'react';
import { Button } from '../kit/Button';
import { TextField } from '../kit/Field';
import { Failed } from '../kit/Notice';
import { Panel, Refused, Section } from '../kit/Panel';
import { Said } from '../kit/Said';
import { clockSeconds, day } from '../kit/time';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { changeEvents, correctEvent, type EventAct, eventQuery } from './api';
import { EventSign, RUSH } from './EventSign';
import { KINDS } from './words';

type Detail = NonNullable<Awaited<ReturnType<NonNullable<ReturnType<typeof eventQuery>['queryFn']>>>>;

/** One event opened: every field as visitors see it and as it arrived, who draws on it and in which words, and what was corrected. */
export function EventPanel({
  eventId,
  onClose,
  onDeleted,
}: {
  eventId: string;
  onClose(): void;
  onDeleted(undo: { ids: readonly string[]; until: string }): void;
}) {
  const { site, member } = useDesk();
  const queries = useQueryClient();
  const detail = useQuery(eventQuery(site.id, eventId));
  const [correcting, setCorrecting] = useState(false);
  const refresh = () => {
    for (const key of ['events', 'event', 'sources', 'strip']) void queries.invalidateQueries({ queryKey: [key] });
  };
  const act = useMutation({
    mutationFn: (what: EventAct) => changeEvents(site.id, what, [eventId]),
    onSuccess: (changed) => {
      refresh();
      if (!changed.undoUntil) return;
      onDeleted({ ids: changed.ids, until: changed.undoUntil });
      onClose();
    },
  });
  const data = detail.data;
  const mayEdit = mayAct(member, 'publish');
  return (
    <Panel
      label="The chosen event"
      title={data ? <Said spans={data.event.spans} /> : 'An event'}
      onClose={onClose}
      foot={
        data &&
        mayEdit &&
        !correcting && (
          <>
            {data.event.state !== 'ownTest' && <Button onClick={() => setCorrecting(true)}>Correct event</Button>}
            {data.event.state === 'held' && (
              <Button kind="primary" disabled={act.isPending} onClick={() => act.mutate('release')}>
                Approve
              </Button>
            )}
            {(data.event.state === 'usable' || data.event.state === 'held') && (
              <Button disabled={act.isPending} onClick={() => act.mutate('hide')}>
                Hide
              </Button>
            )}
            {(data.event.state === 'hidden' || data.event.state === 'duplicate') && (
              <Button disabled={act.isPending} onClick={() => act.mutate('release')}>
                Show to visitors
              </Button>
            )}
            <Button kind="danger" disabled={act.isPending} onClick={() => act.mutate('delete')}>
              Delete
            </Button>
            <Refused error={act.error} />
          </>
        )
      }
    >
      {detail.isError && <Failed error={detail.error} />}
      {data &&
        (correcting ? (
          <Corrections detail={data} eventId={eventId} onDone={() => setCorrecting(false)} onSaved={refresh} />
        ) : (
          <Opened detail={data} />
        ))}
    </Panel>
  );
}

function Opened({ detail }: { detail: Detail }) {
  const { event } = detail;
  return (
    <>
      <Section>
        <p className="text-[12px] leading-4 text-soft">
          {KINDS[event.kind][0]}, {day(event.at)}, {clockSeconds(event.at)}, {event.source}
          <br />
          {event.meta}; {event.wordedBy ? `as "${event.wordedBy}" words it` : 'no live callout draws on it'}
        </p>
        <div className="flex items-start justify-between gap-2">
          <EventSign event={event} />
          {event.heldBecause && event.state === 'held' && (
            <span className="text-end text-[12px] leading-4">
              {event.heldBecause === RUSH ? 'more than this site usually hears at once' : `found “${event.heldBecause}”`}
            </span>
          )}
        </div>
        <table className="w-full">
          <thead>
            <tr className="border-b border-ink text-[12px] text-soft">
              <th scope="col" className="py-1 text-start font-medium">
                Field
              </th>
              <th scope="col" className="py-1 text-start font-medium">
                Visitors see
              </th>
              <th scope="col" className="py-1 text-start font-medium">
                Arrived, masked
              </th>
            </tr>
          </thead>
          <tbody>
            {detail.fields.map((f) => (
              <tr key={f.field} className="border-b border-hair align-top">
                <td className="py-1.5 pe-2 text-soft">{f.field}</td>
                <td className="py-1.5 pe-2 [overflow-wrap:anywhere]">
                  {f.visitorsSee ? (
                    <b>{f.visitorsSee}</b>
                  ) : (
                    <i className="text-soft">{f.field === 'e-mail' || f.field === 'phone' ? 'never shown' : 'not shown'}</i>
                  )}
                </td>
                <td className="py-1.5 [overflow-wrap:anywhere]">{f.arrived}</td>
              </tr>
            ))}
          </tbody>
        </table>
        {detail.placeNote && (
          <p className="flex gap-2 text-[12px] leading-4">
            <MapPin className="h-4 w-4 flex-none" aria-hidden="true" /> {detail.placeNote}
          </p>
        )}
      </Section>
      <Section title="Live callouts on this source" quiet>
        {detail.uses.length === 0 && <p className="text-soft">None draws on it.</p>}
        <ul>
          {detail.uses.map((use) => (
            <li key={use.calloutId} className="flex gap-2 border-t border-hair py-2">
              {use.counts ? (
                <Check className="mt-0.5 h-4 w-4 flex-none text-good" aria-label="draws on it" />
              ) : (
                <X className="mt-0.5 h-4 w-4 flex-none text-bad" aria-label="does not" />
              )}
              <span className="min-w-0">
                <Link to="/callouts/$calloutId" params={{ calloutId: use.calloutId }} className="font-semibold hover:underline">
                  {use.name}
                </Link>
                <span className="block text-[12px] leading-4 text-soft">{use.note}</span>
                {use.counts && (
                  <span className="block text-[12px] leading-4">
                    <Said spans={use.said} />
                  </span>
                )}
              </span>
            </li>
          ))}
        </ul>
      </Section>
      {detail.corrections.length > 0 && (
        <Section title="Corrected">
          <ul className="grid gap-2 text-[12px] leading-4">
            {detail.corrections.map((c) => (
              <li key={`${c.at}${c.field}`}>
                <b>{c.field}</b>: <s>{c.was || 'empty'}</s> is now {c.is || 'empty'}
                <span className="block text-soft">
                  {c.by}, {day(c.at)}, {clockSeconds(c.at)}
                </span>
              </li>
            ))}
          </ul>
        </Section>
      )}
    </>
  );
}

function Corrections({ detail, eventId, onDone, onSaved }: { detail: Detail; eventId: string; onDone(): void; onSaved(): void }) {
  const { site } = useDesk();
  const save = useMutation({
    mutationFn: (fields: Record<string, string>) => correctEvent(site.id, eventId, fields),
    onSuccess: () => {
      onSaved();
      onDone();
    },
  });
  function submit(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const typed = new FormData(event.currentTarget);
    save.mutate(
      Object.fromEntries(
        Object.entries(detail.correctable)
          .map(([field, was]) => [field, String(typed.get(field) ?? was)] as const)
          .filter(([field, is]) => is !== detail.correctable[field]),
      ),
    );
  }
  return (
    <form onSubmit={submit} className="grid gap-3 p-4">
      <p className="text-[12px] leading-4 text-soft">What visitors read changes; what arrived is kept, with your name and the time.</p>
      {Object.entries(detail.correctable).map(([field, value]) => (
        <TextField key={field} label={field} name={field} defaultValue={value} autoComplete="off" />
      ))}
      <Refused error={save.error} />
      <p className="flex gap-2">
        <Button type="submit" kind="primary" disabled={save.isPending}>
          Save correction
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </p>
    </form>
  );
}
