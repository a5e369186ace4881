import { queryOptions } from '@tanstack/react-query';
import { answered, client } from '../lib/api';

export const installQuery = (siteId: string) =>
  queryOptions({
    queryKey: ['install', siteId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/install', { params: { path: { siteId } } })),
  });

export const setHosts = (siteId: string, hosts: string[]) =>
  answered(client.PUT('/api/sites/{siteId}/install/hosts', { params: { path: { siteId } }, body: { hosts } }));

export const makeVisitLink = (siteId: string) =>
  answered(client.POST('/api/sites/{siteId}/install/visit-link', { params: { path: { siteId } } }));
