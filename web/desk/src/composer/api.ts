import { queryOptions } from '@tanstack/react-query';
import type { Brief } from '../brief/types';
import { answered, client } from '../data/api';
import type { SheetSearch } from '../runsheet/api';

export const evidenceQuery = (siteId: string, calloutId: string, version: number) =>
  queryOptions({
    queryKey: ['evidence', siteId, calloutId, version],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/callouts/{id}/evidence', { params: { path: { siteId, id: calloutId } } })),
    placeholderData: (before) => before,
  });

export const rehearsalQuery = (siteId: string, calloutId: string, version: number, path: string, who: SheetSearch) =>
  queryOptions({
    queryKey: ['rehearsal', siteId, calloutId, version, path, who],
    queryFn: () =>
      answered(
        client.GET('/api/sites/{siteId}/callouts/{id}/rehearsal', {
          params: { path: { siteId, id: calloutId }, query: { path, ...who } },
        }),
      ),
    placeholderData: (before) => before,
  });

export const whyQuery = (siteId: string, calloutId: string, version: number) =>
  queryOptions({
    queryKey: ['rehearsal', siteId, calloutId, version, 'why'],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/callouts/{id}/why', { params: { path: { siteId, id: calloutId } } })),
  });

export const revisionsQuery = (siteId: string, calloutId: string) =>
  queryOptions({
    queryKey: ['callout', siteId, calloutId, 'revisions'],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/callouts/{id}/revisions', { params: { path: { siteId, id: calloutId } } })),
  });

export const stageQuery = (siteId: string, calloutId: string, language: string) =>
  queryOptions({
    queryKey: ['stage', siteId, calloutId, language],
    queryFn: () =>
      answered(
        client.POST('/api/sites/{siteId}/callouts/{id}/stage', {
          params: { path: { siteId, id: calloutId }, query: language ? { language } : {} },
        }),
      ),
    placeholderData: (before) => before,
    staleTime: 3 * 3600_000,
  });

export const saveDraft = (siteId: string, calloutId: string, name: string, brief: Brief, version: number) =>
  answered(
    client.PUT('/api/sites/{siteId}/callouts/{id}/draft', {
      params: { path: { siteId, id: calloutId } },
      body: { name, content: brief, version },
    }),
  );
