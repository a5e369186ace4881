import { queryOptions } from '@tanstack/react-query';
import { answered, carryToken, client, type Schema } from '../lib/api';

export type Member = Schema<'MemberView'>;
export type Site = Schema<'SiteView'>;

export const sessionQuery = queryOptions({
  queryKey: ['session'],
  queryFn: async () => {
    const session = await answered(client.GET('/api/session'));
    carryToken(session.antiforgeryToken);
    return session;
  },
  staleTime: Number.POSITIVE_INFINITY,
});

export const sitesQuery = queryOptions({
  queryKey: ['sites'],
  queryFn: () => answered(client.GET('/api/sites')),
  staleTime: 60_000,
});

export const signIn = (email: string, password: string) => answered(client.POST('/api/session', { body: { email, password } }));

export const signOut = () => answered(client.DELETE('/api/session'));

export const addSite = (body: Schema<'SiteRequest'>) => answered(client.POST('/api/sites', { body }));

export const changeSite = (siteId: string, body: Schema<'SiteRequest'>) =>
  answered(client.PUT('/api/sites/{siteId}', { params: { path: { siteId } }, body }));

export const removeSite = (siteId: string, name: string) =>
  answered(client.POST('/api/sites/{siteId}/remove', { params: { path: { siteId } }, body: { name } }));

export const removedSitesQuery = queryOptions({
  queryKey: ['removed-sites'],
  queryFn: () => answered(client.GET('/api/sites/removed')),
});

export const restoreSite = (removedId: string) =>
  answered(client.POST('/api/sites/removed/{removedId}/restore', { params: { path: { removedId } } }));
