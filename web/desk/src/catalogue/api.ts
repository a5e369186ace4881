import { queryOptions } from '@tanstack/react-query';
import { answered, client, type Schema } from '../data/api';
import type { Shelf } from '../data/shelf';

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

export const sourcesQuery = (siteId: string) =>
  queryOptions({
    queryKey: ['sources', siteId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/sources', { params: { path: { siteId } } })),
  });

export const segmentsQuery = (siteId: string) =>
  queryOptions({
    queryKey: ['segments', siteId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/segments', { params: { path: { siteId } } })),
  });

/** What visitors of the last 30 days were like, so that a rule's value can be picked instead of guessed. */
export const seenFactsQuery = (siteId: string) =>
  queryOptions({
    queryKey: ['seen-facts', siteId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/visitors/seen', { params: { path: { siteId } } })),
    staleTime: 5 * 60_000,
  });

export const addSegment = (siteId: string, body: Schema<'SegmentRequest'>) =>
  answered(client.POST('/api/sites/{siteId}/segments', { params: { path: { siteId } }, body }));

export const groupsQuery = (siteId: string) =>
  queryOptions({
    queryKey: ['page-groups', siteId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/page-groups', { params: { path: { siteId } } })),
  });

export const rewardsQuery = (siteId: string) =>
  queryOptions({
    queryKey: ['rewards', siteId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/rewards', { params: { path: { siteId } } })),
  });

export const calloutsQuery = (siteId: string, shelf?: Shelf) =>
  queryOptions({
    queryKey: ['callouts', siteId, shelf ?? 'current'],
    queryFn: () =>
      answered(client.GET('/api/sites/{siteId}/callouts', { params: { path: { siteId }, query: shelf ? { [shelf]: true } : {} } })),
  });
