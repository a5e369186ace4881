import { queryOptions } from '@tanstack/react-query';
import { answered, client } from '../lib/api';

export const stripQuery = (siteId: string) =>
  queryOptions({
    queryKey: ['strip', siteId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/strip', { params: { path: { siteId } } })),
    refetchInterval: 15_000,
  });
