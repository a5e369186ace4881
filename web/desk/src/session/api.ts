import { queryOptions } from '@tanstack/react-query';
import { answered, carryToken, client, type Schema } from '../data/api';

export type Member = Schema<'MemberView'>;
export type Workspace = Schema<'MemberWorkspace'>;
export type Right = Schema<'Right'>;
export type Role = Schema<'Role'>;
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

export const signInSecond = (ticket: string, code: string) => answered(client.POST('/api/session/second', { body: { ticket, code } }));

export const askForReset = (email: string) => answered(client.POST('/api/session/forgotten', { body: { email } }));

export const resetPassword = (link: string, password: string) => answered(client.POST('/api/session/reset', { body: { link, password } }));

export const register = (email: string) => answered(client.POST('/api/session/registration', { body: { email } }));

export const openWorkspace = (body: Schema<'OpeningRequest'>) => answered(client.POST('/api/session/opening', { body }));

export const openAnother = (body: Schema<'AnotherWorkspaceRequest'>) => answered(client.POST('/api/workspaces', { body }));

export const lookAtInvitation = (secret: string) => answered(client.POST('/api/invitations/look', { body: { secret } }));

export const acceptInvitation = (body: Schema<'AcceptRequest'>) => answered(client.POST('/api/invitations/accept', { body }));

export const signOut = () => answered(client.DELETE('/api/session'));

/** Says that one is away for visitors, or back. */
export const sayAway = (workspaceId: string, isAway: boolean) =>
  answered(client.PUT('/api/workspaces/{workspaceId}/team/away', { params: { path: { workspaceId } }, body: { isAway } }));

export const addSite = (workspaceId: string, body: Schema<'SiteRequest'>) =>
  answered(client.POST('/api/workspaces/{workspaceId}/sites', { params: { path: { workspaceId } }, body }));

export const changeSite = (siteId: string, body: Schema<'SiteRequest'>) =>
  answered(client.PUT('/api/sites/{siteId}', { params: { path: { siteId } }, body }));

export const removeSite = (siteId: string, name: string) =>
  answered(client.POST('/api/sites/{siteId}/remove', { params: { path: { siteId } }, body: { name } }));

export const removedSitesQuery = (workspaceId: string) =>
  queryOptions({
    queryKey: ['removed-sites', workspaceId],
    queryFn: () => answered(client.GET('/api/workspaces/{workspaceId}/sites/removed', { params: { path: { workspaceId } } })),
  });

export const restoreSite = (workspaceId: string, removedId: string) =>
  answered(
    client.POST('/api/workspaces/{workspaceId}/sites/removed/{removedId}/restore', { params: { path: { workspaceId, removedId } } }),
  );
