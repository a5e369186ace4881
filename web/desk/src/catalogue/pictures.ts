import { queryOptions } from '@tanstack/react-query';
import { answered, client, type Schema } from '../data/api';

export const picturesQuery = (siteId: string, words: string) =>
  queryOptions({
    queryKey: ['pictures', siteId, words],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/pictures', { params: { path: { siteId }, query: words ? { words } : {} } })),
    placeholderData: (before) => before,
  });

export const fetchPicture = (siteId: string, address: string) =>
  answered(client.POST('/api/sites/{siteId}/pictures/fetch', { params: { path: { siteId } }, body: { address } }));

/** Sends a picture as it is; the server looks into it and keeps what a callout can show. */
export const uploadPicture = (siteId: string, file: File): Promise<Schema<'PictureView'>> =>
  answered(
    client.POST('/api/sites/{siteId}/pictures', {
      params: { path: { siteId }, query: { name: file.name } },
      body: file as never,
      bodySerializer: (body) => body as never,
      headers: { 'Content-Type': 'application/octet-stream' },
    }),
  );

export const removePicture = (siteId: string, pictureId: string) =>
  answered(client.DELETE('/api/sites/{siteId}/pictures/{pictureId}', { params: { path: { siteId, pictureId } } }));
