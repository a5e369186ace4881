import { queryOptions } from '@tanstack/react-query';
import { answered, client, type Schema, token } from '../data/api';

export type Team = Schema<'TeamView'>;
export type TeamMember = Schema<'TeamMemberView'>;
export type Habits = Schema<'HouseHabits'>;
export type Trace = Schema<'TraceView'>;
export type TokenScope = Schema<'TokenScope'>;

const of = (workspaceId: string) => ({ params: { path: { workspaceId } } });

export const teamQuery = (workspaceId: string) =>
  queryOptions({
    queryKey: ['team', workspaceId],
    queryFn: () => answered(client.GET('/api/workspaces/{workspaceId}/team', of(workspaceId))),
    refetchInterval: 30_000,
  });

export const tracesQuery = (workspaceId: string, member: string | undefined, query: string | undefined, before: string | undefined) =>
  queryOptions({
    queryKey: ['team', workspaceId, 'traces', member, query, before],
    queryFn: () =>
      answered(
        client.GET('/api/workspaces/{workspaceId}/team/traces', {
          params: {
            path: { workspaceId },
            query: { ...(member && { Member: member }), ...(query && { Query: query }), ...(before && { before }) },
          },
        }),
      ),
  });

export const tracesFile = (workspaceId: string) => `/api/workspaces/${workspaceId}/team/traces/export.csv`;

export const invite = (workspaceId: string, email: string, role: Schema<'Role'>) =>
  answered(client.POST('/api/workspaces/{workspaceId}/team/invitations', { ...of(workspaceId), body: { email, role } }));

export const inviteAgain = (workspaceId: string, invitationId: string) =>
  answered(
    client.POST('/api/workspaces/{workspaceId}/team/invitations/{invitationId}/again', {
      params: { path: { workspaceId, invitationId } },
    }),
  );

export const withdraw = (workspaceId: string, invitationId: string) =>
  answered(
    client.DELETE('/api/workspaces/{workspaceId}/team/invitations/{invitationId}', { params: { path: { workspaceId, invitationId } } }),
  );

export const setRole = (workspaceId: string, memberId: string, role: Schema<'Role'>) =>
  answered(
    client.PUT('/api/workspaces/{workspaceId}/team/members/{memberId}', { params: { path: { workspaceId, memberId } }, body: { role } }),
  );

export const removeMember = (workspaceId: string, memberId: string) =>
  answered(client.DELETE('/api/workspaces/{workspaceId}/team/members/{memberId}', { params: { path: { workspaceId, memberId } } }));

export const leave = (workspaceId: string) => answered(client.POST('/api/workspaces/{workspaceId}/team/leave', of(workspaceId)));

export const setHabits = (workspaceId: string, body: Habits) =>
  answered(client.PUT('/api/workspaces/{workspaceId}/team/habits', { ...of(workspaceId), body }));

export const houseQuery = (workspaceId: string) =>
  queryOptions({
    queryKey: ['house', workspaceId],
    queryFn: () => answered(client.GET('/api/workspaces/{workspaceId}/house', of(workspaceId))),
    refetchInterval: 30_000,
  });

export const addGroup = (workspaceId: string, body: Schema<'AnswerGroupRequest'>) =>
  answered(client.POST('/api/workspaces/{workspaceId}/team/groups', { ...of(workspaceId), body }));

export const changeGroup = (workspaceId: string, groupId: string, body: Schema<'AnswerGroupRequest'>) =>
  answered(client.PUT('/api/workspaces/{workspaceId}/team/groups/{groupId}', { params: { path: { workspaceId, groupId } }, body }));

export const removeGroup = (workspaceId: string, groupId: string) =>
  answered(client.DELETE('/api/workspaces/{workspaceId}/team/groups/{groupId}', { params: { path: { workspaceId, groupId } } }));

export type Limits = Schema<'WorkspaceLimits'>;

export const limitsQuery = (workspaceId: string) =>
  queryOptions({
    queryKey: ['limits', workspaceId],
    queryFn: () => answered(client.GET('/api/workspaces/{workspaceId}/team/limits', of(workspaceId))),
    refetchInterval: 60_000,
  });

export const setLimits = (workspaceId: string, body: Limits) =>
  answered(client.PUT('/api/workspaces/{workspaceId}/team/limits', { ...of(workspaceId), body }));

export const tokensQuery = (workspaceId: string) =>
  queryOptions({
    queryKey: ['team', workspaceId, 'tokens'],
    queryFn: () => answered(client.GET('/api/workspaces/{workspaceId}/team/tokens', of(workspaceId))),
  });

export const makeToken = (workspaceId: string, name: string, scopes: TokenScope[]) =>
  answered(client.POST('/api/workspaces/{workspaceId}/team/tokens', { ...of(workspaceId), body: { name, scopes } }));

export const endToken = (workspaceId: string, tokenId: string) =>
  answered(client.DELETE('/api/workspaces/{workspaceId}/team/tokens/{tokenId}', { params: { path: { workspaceId, tokenId } } }));

export type BrandKit = Schema<'BrandKit'>;

export const setKit = (siteId: string, body: BrandKit) =>
  answered(client.PUT('/api/sites/{siteId}/kit', { params: { path: { siteId } }, body }));

/** How a kit that is not kept would be met. */
export const kitTriedQuery = (siteId: string, body: BrandKit) =>
  queryOptions({
    queryKey: ['kit', siteId, 'tried', body],
    queryFn: () => answered(client.POST('/api/sites/{siteId}/kit/try', { params: { path: { siteId } }, body })),
    placeholderData: (before) => before,
  });

export const takeOverKit = (siteId: string, ids: string[]) =>
  answered(client.POST('/api/sites/{siteId}/kit/take-over', { params: { path: { siteId } }, body: { ids } }));

export type TakenIn = Schema<'TakenInView'>;

export const bundleFile = (workspaceId: string) => `/api/workspaces/${workspaceId}/bundle`;

/** Takes a bundle in, or only says what that would do. A file is no JSON request: it goes as it is. */
export async function takeIn(workspaceId: string, file: File, dryRun: boolean): Promise<TakenIn> {
  const response = await fetch(`/api/workspaces/${workspaceId}/bundle?dryRun=${dryRun}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream', 'X-Outcry-Antiforgery': token() },
    body: file,
  });
  const body = await response.json().catch(() => ({}));
  return answered(Promise.resolve(response.ok ? { data: body as TakenIn, response } : { error: body, response }));
}

export const copySite = (siteId: string, name: string, homeAddress: string) =>
  answered(client.POST('/api/sites/{siteId}/copy', { params: { path: { siteId } }, body: { name, homeAddress } }));
