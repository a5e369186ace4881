import { queryOptions } from '@tanstack/react-query';
import type { Rule } from '../brief/who';
import { answered, client, type Schema } from '../data/api';

export type Segment = Schema<'SegmentView'>;
export type PageGroup = Schema<'PageGroupView'>;
export type VisitorRow = Schema<'VisitorView'>;

export const sizeQuery = (siteId: string, rule: Rule) =>
  queryOptions({
    queryKey: ['segments', siteId, 'size', rule],
    queryFn: ({ signal }) =>
      answered(client.POST('/api/sites/{siteId}/segments/size', { params: { path: { siteId } }, body: { rule: rule as never }, signal })),
    staleTime: 60_000,
    placeholderData: (before) => before,
  });

export const changeSegment = (siteId: string, segmentId: string, name: string, rule: Rule) =>
  answered(
    client.PUT('/api/sites/{siteId}/segments/{segmentId}', {
      params: { path: { siteId, segmentId } },
      body: { name, rule: rule as never },
    }),
  );

export const removeSegment = (siteId: string, segmentId: string) =>
  answered(client.DELETE('/api/sites/{siteId}/segments/{segmentId}', { params: { path: { siteId, segmentId } } }));

export const visitorsQuery = (siteId: string, segment: string | undefined, page: string | undefined, skip: number) =>
  queryOptions({
    queryKey: ['visitors', siteId, segment, page, skip],
    queryFn: () =>
      answered(
        client.GET('/api/sites/{siteId}/visitors', {
          params: { path: { siteId }, query: { ...(segment && { segment }), ...(page && { page }), skip } },
        }),
      ),
    placeholderData: (before) => before,
  });

export const visitorQuery = (siteId: string, visitorId: string) =>
  queryOptions({
    queryKey: ['visitors', siteId, 'one', visitorId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/visitors/{visitorId}', { params: { path: { siteId, visitorId } } })),
  });

export function saveGroup(siteId: string, groupId: string | undefined, body: Schema<'PageGroupRequest'>): Promise<PageGroup> {
  return groupId
    ? answered(client.PUT('/api/sites/{siteId}/page-groups/{groupId}', { params: { path: { siteId, groupId } }, body }))
    : answered(client.POST('/api/sites/{siteId}/page-groups', { params: { path: { siteId } }, body }));
}

export const removeGroup = (siteId: string, groupId: string) =>
  answered(client.DELETE('/api/sites/{siteId}/page-groups/{groupId}', { params: { path: { siteId, groupId } } }));

export const orderGroups = (siteId: string, groups: string[]) =>
  answered(client.PUT('/api/sites/{siteId}/page-groups/order', { params: { path: { siteId } }, body: { groups } }));
