import { queryOptions } from '@tanstack/react-query';
import type { Callout } from '../brief/types';
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
