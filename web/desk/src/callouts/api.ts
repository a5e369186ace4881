import { queryOptions } from '@tanstack/react-query';
import { answered, client, type Schema } from '../lib/api';
import type { Shelf } from '../lib/shelf';

export type Callout = Schema<'CalloutView'>;
export type CalloutListItem = Schema<'CalloutListView'>;
export type Brief = Schema<'Brief'>;
export type Source = Schema<'SourceView'>;

export const calloutsQuery = (siteId: string, shelf?: Shelf) =>
  queryOptions({
    queryKey: ['callouts', siteId, shelf ?? 'current'],
    queryFn: () =>
      answered(client.GET('/api/sites/{siteId}/callouts', { params: { path: { siteId }, query: shelf ? { [shelf]: true } : {} } })),
  });

export const calloutQuery = (siteId: string, calloutId: string) =>
  queryOptions({
    queryKey: ['callout', siteId, calloutId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/callouts/{id}', { params: { path: { siteId, id: calloutId } } })),
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

/** What is done with a callout as a whole. */
export type Move = 'pause' | 'resume' | 'archive' | 'restore' | 'delete' | 'take-back';

export function moveCallout(siteId: string, calloutId: string, move: Exclude<Move, 'delete'>): Promise<Callout> {
  const params = { params: { path: { siteId, id: calloutId } } };
  switch (move) {
    case 'pause':
      return answered(client.POST('/api/sites/{siteId}/callouts/{id}/pause', params));
    case 'resume':
      return answered(client.POST('/api/sites/{siteId}/callouts/{id}/resume', params));
    case 'archive':
      return answered(client.POST('/api/sites/{siteId}/callouts/{id}/archive', params));
    case 'restore':
      return answered(client.POST('/api/sites/{siteId}/callouts/{id}/restore', params));
    case 'take-back':
      return answered(client.POST('/api/sites/{siteId}/callouts/{id}/take-back', params));
  }
}

export const deleteCallout = (siteId: string, calloutId: string) =>
  answered(client.DELETE('/api/sites/{siteId}/callouts/{id}', { params: { path: { siteId, id: calloutId } } }));

/** Makes moves one after the other. */
export async function makeMoves(siteId: string, calloutId: string, moves: readonly Move[]): Promise<void> {
  for (const move of moves) await (move === 'delete' ? deleteCallout(siteId, calloutId) : moveCallout(siteId, calloutId, move));
}

export const groupCallout = (siteId: string, calloutId: string, group: string) =>
  answered(client.PUT('/api/sites/{siteId}/callouts/{id}/group', { params: { path: { siteId, id: calloutId } }, body: { group } }));
