import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { Source } from '../../brief/types';
import { Button } from '../../kit/Button';
import { Refused } from '../../kit/Panel';
import { clockSeconds, day } from '../../kit/time';
import { useDesk } from '../../session/desk';
import { mayAct } from '../../session/model';
import { deliveriesQuery, deliveryQuery, resend } from '../api';

const VERDICTS = { accepted: 'taken in', repeated: 'known already', leftOut: 'left out', refused: 'refused' } as const;

/** The body of the newest delivery that has one, as a sample to point at. */
export function useLastBody(source: Source): string | undefined {
  const { site, member } = useDesk();
  const asked = source.kind === 'signedWebhook' && mayAct(member, 'connect');
  const list = useQuery({ ...deliveriesQuery(site.id, source.id), enabled: asked });
  const newest = list.data?.find((d) => d.status !== 401)?.id;
  const detail = useQuery({ ...deliveryQuery(site.id, source.id, newest ?? ''), enabled: !!newest });
  return detail.data?.body ?? undefined;
}

/** What was sent lately and what became of it; one opened shows its body and can be sent again. */
export function DeliveriesList({ source }: { source: Source }) {
  const { site, member } = useDesk();
  const queries = useQueryClient();
  const list = useQuery(deliveriesQuery(site.id, source.id));
  const [open, setOpen] = useState<string>();
  const again = useMutation({
    mutationFn: (id: string) => resend(site.id, source.id, id),
    onSuccess: () => {
      for (const key of ['deliveries', 'events', 'sources']) void queries.invalidateQueries({ queryKey: [key] });
    },
  });
  const mayEdit = mayAct(member, 'connect');
  if (list.data?.length === 0) return <p className="text-soft">Nothing was delivered yet. The last 50 are kept here.</p>;
  return (
    <ul>
      {list.data?.map((d) => (
        <li key={d.id} className="border-t border-hair py-1.5">
          <button
            type="button"
            aria-expanded={open === d.id}
            disabled={!mayEdit}
            onClick={() => setOpen(open === d.id ? undefined : d.id)}
            className="flex w-full justify-between gap-2 text-start"
          >
            <span>
              {day(d.at)}, {clockSeconds(d.at)}
              {d.isResend && ', sent again'}
            </span>
            <span className={d.verdict === 'refused' ? 'text-bad' : d.verdict === 'leftOut' ? 'text-warn' : ''}>
              {VERDICTS[d.verdict]}, {d.status}
            </span>
          </button>
          {d.because && <p className="text-[12px] leading-4 text-soft">{d.because}</p>}
          {open === d.id && <Body source={source} id={d.id} />}
          {open === d.id && (
            <p className="mt-1 flex items-center gap-2">
              <Button onClick={() => again.mutate(d.id)} disabled={again.isPending}>
                Take it in again
              </Button>
              <Refused error={again.error} />
            </p>
          )}
        </li>
      ))}
    </ul>
  );
}

function Body({ source, id }: { source: Source; id: string }) {
  const { site } = useDesk();
  const detail = useQuery(deliveryQuery(site.id, source.id, id));
  if (!detail.data) return null;
  return (
    <pre
      tabIndex={0}
      className="mt-1 max-h-48 overflow-auto rounded border border-edge bg-paper p-2 font-mono text-[12px] leading-4 whitespace-pre-wrap [overflow-wrap:anywhere]"
    >
      {pretty(detail.data.body) ?? 'The body was not kept: it was not signed.'}
    </pre>
  );
}

function pretty(body: string | null): string | null {
  try {
    return body && JSON.stringify(JSON.parse(body), null, 2);
  } catch {
    return body;
  }
}
