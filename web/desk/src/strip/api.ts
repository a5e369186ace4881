import { queryOptions } from '@tanstack/react-query';
import { answered, client } from '../data/api';

export const stripQuery = (siteId: string) =>
  queryOptions({
    queryKey: ['strip', siteId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/strip', { params: { path: { siteId } } })),
    // Sooner while something is wrong, so that the strip is the first to say that it is over.
    refetchInterval: (query) => (query.state.error ? 3_000 : 15_000),
  });

export const switchAir = (siteId: string, offAir: boolean) =>
  answered(client.PUT('/api/sites/{siteId}/off-air', { params: { path: { siteId } }, body: { offAir } }));
