import { queryOptions } from '@tanstack/react-query';
import { answered, client, type Schema } from '../data/api';

export type Group = Schema<'AnswerGroupView'>;

/** Groups of the team, to whom talks are handed. */
export const groupsQuery = (workspaceId: string) =>
  queryOptions({
    queryKey: ['team', workspaceId, 'groups'],
    queryFn: () => answered(client.GET('/api/workspaces/{workspaceId}/team/groups', { params: { path: { workspaceId } } })),
  });

/** What a group is called; a group that is gone is everybody. */
export const groupName = (groups: readonly Group[] | undefined, id: string | null | undefined) => groups?.find((g) => g.id === id)?.name;

/** Everybody who may answer at a site, and who of them is there. */
export const answeringQuery = (siteId: string) =>
  queryOptions({
    queryKey: ['answering', siteId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/talks/answering', { params: { path: { siteId } } })),
  });
