import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { Check, MapPin, X } from 'lucide-react';
import { useDesk } from '../app/desk';
import { clockSeconds, day } from '../lib/time';
import { mayAct } from '../session/model';
import { Button } from '../ui/Button';
import { Failed } from '../ui/Notice';
import { Said } from '../ui/Said';
import { eventQuery, setHidden } from './api';

/** One event opened: every field as visitors see it and as it arrived, and who draws on it. */
export function EventPanel({ eventId, onClose }: { eventId: string; onClose(): void }) {
  const { site, member } = useDesk();
  const queries = useQueryClient();
  const detail = useQuery(eventQuery(site.id, eventId));
  const hide = useMutation({
    mutationFn: (hidden: boolean) => setHidden(site.id, eventId, hidden),
    onSettled: () => {
      for (const key of ['events', 'event', 'sources']) void queries.invalidateQueries({ queryKey: [key] });
    },
  });
  return (
    <aside
      aria-label="The chosen event"
      className="relative flex w-[316px] flex-none flex-col border-s-2 border-cobalt bg-sheet max-lg:absolute max-lg:inset-y-0 max-lg:end-0 max-lg:z-20 max-lg:max-w-full max-lg:shadow-lg"
    >
      <button
        type="button"
        onClick={onClose}
        aria-label="Close this panel"
        className="absolute end-3 top-3 grid h-8 w-8 place-items-center"
      >
        <X className="h-4 w-4" />
      </button>
      {detail.isError && <Failed error={detail.error} />}
      {detail.data && (
        <>
          <div className="min-h-0 flex-1 overflow-auto">
            <div className="p-4">
              <p className="text-[12px] text-soft">
                {day(detail.data.event.at)}, {clockSeconds(detail.data.event.at)}, {detail.data.event.source}
              </p>
              <h2 className="pe-9 text-[16px] leading-6">
                <Said spans={detail.data.event.spans} />
              </h2>
              <p className="text-[12px] text-soft">
                {detail.data.event.meta};{' '}
                {detail.data.event.wordedBy ? `as "${detail.data.event.wordedBy}" words it` : 'no live callout draws on it'}
              </p>
              <table className="mt-3 w-full">
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
                  {detail.data.fields.map((f) => (
                    <tr key={f.field} className="border-b border-hair align-top">
                      <td className="py-1.5 pe-2 text-soft">{f.field}</td>
                      <td className="py-1.5 pe-2">
                        {f.visitorsSee ? (
                          <b>{f.visitorsSee}</b>
                        ) : (
                          <i className="text-soft">{f.field === 'e-mail' ? 'never shown' : 'not shown'}</i>
                        )}
                      </td>
                      <td className="py-1.5 [overflow-wrap:anywhere]">{f.arrived}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
              {detail.data.placeNote && (
                <p className="mt-3 flex gap-2 text-[12px] leading-4">
                  <MapPin className="h-4 w-4 flex-none" aria-hidden="true" /> {detail.data.placeNote}
                </p>
              )}
            </div>
            <section className="border-t border-ink bg-sheet2 p-4">
              <h3 className="mb-1 font-sans">Live callouts on this source</h3>
              {detail.data.uses.length === 0 && <p className="text-soft">None draws on it.</p>}
              <ul>
                {detail.data.uses.map((use) => (
                  <li key={use.calloutId} className="flex gap-2 border-t border-hair py-2">
                    {use.counts ? (
                      <Check className="mt-0.5 h-4 w-4 flex-none text-good" aria-label="draws on it" />
                    ) : (
                      <X className="mt-0.5 h-4 w-4 flex-none text-bad" aria-label="does not" />
                    )}
                    <span>
                      <Link to="/callouts/$calloutId" params={{ calloutId: use.calloutId }} className="font-semibold hover:underline">
                        {use.name}
                      </Link>
                      <span className="block text-[12px] leading-4 text-soft">{use.note}</span>
                    </span>
                  </li>
                ))}
              </ul>
            </section>
          </div>
          {mayAct(member.role, 'editor') && detail.data.event.state !== 'ownTest' && (
            <div className="flex flex-none gap-2 border-t border-ink p-3">
              <Button disabled={hide.isPending} onClick={() => hide.mutate(detail.data.event.state === 'usable')}>
                {detail.data.event.state === 'usable' ? 'Hide from visitors' : 'Let visitors see it again'}
              </Button>
            </div>
          )}
        </>
      )}
    </aside>
  );
}
