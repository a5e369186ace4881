import { queryOptions } from '@tanstack/react-query';
import { answered, client, type Schema } from '../data/api';

export type Review = Schema<'ReviewView'>;

export const reviewsQuery = (siteId: string) =>
  queryOptions({
    queryKey: ['reviews', siteId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/reviews', { params: { path: { siteId } } })),
    refetchInterval: 60_000,
  });

export const publishersQuery = (workspaceId: string) =>
  queryOptions({
    queryKey: ['team', workspaceId],
    queryFn: () => answered(client.GET('/api/workspaces/{workspaceId}/team', { params: { path: { workspaceId } } })),
  });

export const askForReview = (siteId: string, definitionId: string, of: string | null, sentence: string) =>
  answered(
    client.POST('/api/sites/{siteId}/reviews/of/{definitionId}', { params: { path: { siteId, definitionId } }, body: { of, sentence } }),
  );

const one = (siteId: string, reviewId: string) => ({ params: { path: { siteId, reviewId } } });

export const approve = (siteId: string, reviewId: string, version: number) =>
  answered(client.POST('/api/sites/{siteId}/reviews/{reviewId}/approve', { ...one(siteId, reviewId), body: { version } }));

export const sendBack = (siteId: string, reviewId: string, text: string) =>
  answered(client.POST('/api/sites/{siteId}/reviews/{reviewId}/send-back', { ...one(siteId, reviewId), body: { field: '', text } }));

export const note = (siteId: string, reviewId: string, field: string, text: string) =>
  answered(client.POST('/api/sites/{siteId}/reviews/{reviewId}/notes', { ...one(siteId, reviewId), body: { field, text } }));

export const withdrawReview = (siteId: string, reviewId: string) =>
  answered(client.DELETE('/api/sites/{siteId}/reviews/{reviewId}', one(siteId, reviewId)));
