import { queryOptions } from '@tanstack/react-query';
import { answered, client, type Schema } from '../data/api';

export type Install = Schema<'InstallView'>;
export type PageCheck = Schema<'PageCheckView'>;

const site = (siteId: string) => ({ params: { path: { siteId } } });

export const installQuery = (siteId: string) =>
  queryOptions({
    queryKey: ['install', siteId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/install', site(siteId))),
    refetchInterval: 5_000,
  });

export const installByLinkQuery = (token: string) =>
  queryOptions({
    queryKey: ['install-link', token],
    queryFn: () => answered(client.GET('/api/install-links/{token}', { params: { path: { token } } })),
    refetchInterval: 4_000,
    retry: false,
  });

export const setHosts = (siteId: string, hosts: string[], testHosts: string[]) =>
  answered(client.PUT('/api/sites/{siteId}/install/hosts', { ...site(siteId), body: { hosts, testHosts } }));

export const makeVisitLink = (siteId: string) => answered(client.POST('/api/sites/{siteId}/install/visit-link', site(siteId)));

export const makeInstallLink = (siteId: string) => answered(client.POST('/api/sites/{siteId}/install/install-link', site(siteId)));

export const handOver = (siteId: string, to: string, note: string) =>
  answered(client.POST('/api/sites/{siteId}/install/hand-over', { ...site(siteId), body: { to, note } }));

export const checkPage = (siteId: string, address: string) =>
  answered(client.POST('/api/sites/{siteId}/install/check', { ...site(siteId), body: { address } }));

export const trafficQuery = (siteId: string) =>
  queryOptions({
    queryKey: ['traffic', siteId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/traffic', site(siteId))),
    refetchInterval: 30_000,
  });

export const changeKey = (siteId: string, use: Schema<'KeyUse'>) =>
  answered(client.POST('/api/sites/{siteId}/keys', { ...site(siteId), body: { use } }));
