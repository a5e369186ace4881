import { queryOptions } from '@tanstack/react-query';
import { answered, client, type Schema } from '../data/api';

export const calloutQuery = (siteId: string, calloutId: string) =>
  queryOptions({
    queryKey: ['callout', siteId, calloutId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/callouts/{id}', { params: { path: { siteId, id: calloutId } } })),
  });

export const adviceQuery = (siteId: string) =>
  queryOptions({
    queryKey: ['advice', siteId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/callouts/advice', { params: { path: { siteId } } })),
    staleTime: 60_000,
  });

export const readyQuery = (siteId: string) =>
  queryOptions({
    queryKey: ['sources', siteId, 'ready'],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/callouts/ready', { params: { path: { siteId } } })),
    staleTime: 60_000,
  });

const NOTHING: Schema<'StartRequest'> = { source: null, pageGroup: null, kind: null, ready: null };

export const startCallout = (siteId: string, from: Partial<Schema<'StartRequest'>>) =>
  answered(client.POST('/api/sites/{siteId}/callouts', { params: { path: { siteId } }, body: { ...NOTHING, ...from } }));

export const duplicateCallout = (siteId: string, calloutId: string) =>
  answered(client.POST('/api/sites/{siteId}/callouts/{id}/duplicate', { params: { path: { siteId, id: calloutId } } }));

/** Takes it off air, or puts it on again as it was; the callout as it then is. */
export const switchCallout = (siteId: string, calloutId: string, to: 'pause' | 'resume') =>
  answered(
    client.POST(`/api/sites/{siteId}/callouts/{id}/${to}` as '/api/sites/{siteId}/callouts/{id}/pause', {
      params: { path: { siteId, id: calloutId } },
    }),
  );

export const groupCallout = (siteId: string, calloutId: string, group: string) =>
  answered(client.PUT('/api/sites/{siteId}/callouts/{id}/group', { params: { path: { siteId, id: calloutId } }, body: { group } }));
