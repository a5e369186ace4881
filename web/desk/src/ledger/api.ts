import { infiniteQueryOptions, queryOptions } from '@tanstack/react-query';
import { answered, client, type Schema } from '../lib/api';

export type LedgerEvent = Schema<'EventView'>;

/** What the ledger is filtered by; all of it stands in the address. */
export interface LedgerFilter {
  source?: string;
  state?: Schema<'EventState'>;
  hours: number;
}

export const eventsQuery = (siteId: string, filter: LedgerFilter) =>
  infiniteQueryOptions({
    queryKey: ['events', siteId, filter],
    initialPageParam: undefined as string | undefined,
    queryFn: ({ pageParam }) =>
      answered(
        client.GET('/api/sites/{siteId}/events', {
          params: { path: { siteId }, query: { ...filter, hours: filter.hours || undefined, after: pageParam } },
        }),
      ),
    getNextPageParam: (page) => page.next ?? undefined,
  });

export const eventQuery = (siteId: string, eventId: string) =>
  queryOptions({
    queryKey: ['event', siteId, eventId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/events/{eventId}', { params: { path: { siteId, eventId } } })),
  });

export function setHidden(siteId: string, eventId: string, hidden: boolean) {
  const params = { params: { path: { siteId, eventId } } };
  return hidden
    ? answered(client.POST('/api/sites/{siteId}/events/{eventId}/hide', params))
    : answered(client.POST('/api/sites/{siteId}/events/{eventId}/release', params));
}
