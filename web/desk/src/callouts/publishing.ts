import { queryOptions } from '@tanstack/react-query';
import { answered, client } from '../data/api';

export const publicationQuery = (siteId: string, calloutId: string, version: number) =>
  queryOptions({
    queryKey: ['rehearsal', siteId, calloutId, version, 'publication'],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/callouts/{id}/publication', { params: { path: { siteId, id: calloutId } } })),
  });

export const publish = (siteId: string, calloutId: string, version: number) =>
  answered(
    client.POST('/api/sites/{siteId}/callouts/{id}/publish', {
      params: { path: { siteId, id: calloutId } },
      body: { version },
    }),
  );
