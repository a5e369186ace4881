import { queryOptions } from '@tanstack/react-query';
import type { Brief } from '../callouts/api';
import { answered, client, type Schema } from '../lib/api';

export const evidenceQuery = (siteId: string, calloutId: string, version: number) =>
  queryOptions({
    queryKey: ['evidence', siteId, calloutId, version],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/callouts/{calloutId}/evidence', { params: { path: { siteId, calloutId } } })),
    placeholderData: (before) => before,
  });

export const rehearsalQuery = (siteId: string, calloutId: string, version: number, path: string) =>
  queryOptions({
    queryKey: ['rehearsal', siteId, calloutId, version, path],
    queryFn: () =>
      answered(
        client.GET('/api/sites/{siteId}/callouts/{calloutId}/rehearsal', {
          params: { path: { siteId, calloutId }, query: { path } },
        }),
      ),
    placeholderData: (before) => before,
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

export const stageQuery = (siteId: string, calloutId: string) =>
  queryOptions({
    queryKey: ['stage', siteId, calloutId],
    queryFn: () => answered(client.POST('/api/sites/{siteId}/callouts/{calloutId}/stage', { params: { path: { siteId, calloutId } } })),
    staleTime: 3 * 3600_000,
  });

export const saveDraft = (siteId: string, calloutId: string, name: string, brief: Brief, version: number) =>
  answered(
    client.PUT('/api/sites/{siteId}/callouts/{calloutId}/draft', {
      params: { path: { siteId, calloutId } },
      body: { name, brief, version },
    }),
  );

export const publish = (siteId: string, calloutId: string, version: number) =>
  answered(
    client.POST('/api/sites/{siteId}/callouts/{calloutId}/publish', {
      params: { path: { siteId, calloutId } },
      body: { version },
    }),
  );
