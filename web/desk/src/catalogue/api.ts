import { queryOptions } from '@tanstack/react-query';
import { answered, client, type Schema } from '../lib/api';

export const pointsQuery = (siteId: string) =>
  queryOptions({
    queryKey: ['points', siteId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/points', { params: { path: { siteId } } })),
  });

export const pagesQuery = (siteId: string, where: Schema<'WhereFacet'>) =>
  queryOptions({
    queryKey: ['pages', siteId, where],
    queryFn: () =>
      answered(
        client.POST('/api/sites/{siteId}/pages/match', {
          params: { path: { siteId } },
          body: { includes: where.includes, excludes: where.excludes, groups: where.groups },
        }),
      ),
    placeholderData: (before) => before,
  });
