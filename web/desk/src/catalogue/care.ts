import { queryOptions } from '@tanstack/react-query';
import { answered, client } from '../data/api';

/** What a site keeps, asks and holds: its words among it. */
export const careQuery = (siteId: string) =>
  queryOptions({
    queryKey: ['care', siteId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/care', { params: { path: { siteId } } })),
    refetchInterval: (query) => (query.state.data?.stillToScan ? 1_000 : false),
  });
