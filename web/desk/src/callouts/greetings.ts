import { queryOptions, useQuery } from '@tanstack/react-query';
import { answered, client } from '../data/api';
import type { Shelf } from '../data/shelf';
import { useDesk } from '../session/desk';

export const launchersQuery = (siteId: string, shelf?: Shelf) =>
  queryOptions({
    queryKey: ['launchers', siteId, shelf ?? 'current'],
    queryFn: () =>
      answered(client.GET('/api/sites/{siteId}/launchers', { params: { path: { siteId }, query: shelf ? { [shelf]: true } : {} } })),
  });

/** Where a greeting stands, which is a callout on the page and a rung at the desk. */
export interface Greeting {
  launcherId: string;
  /** "Ask the studio, greeting 2". */
  name: string;
}

/** The greeting of an id; null for any other callout, undefined while that is not known yet. */
export function useGreeting(id: string | undefined): Greeting | null | undefined {
  const { site } = useDesk();
  const { data, isPending } = useQuery({ ...launchersQuery(site.id), enabled: id !== undefined });
  if (isPending) return undefined;
  for (const launcher of data ?? []) {
    const place = [launcher.live?.rungs ?? [], launcher.draft.rungs]
      .map((rungs) => rungs.findIndex((r) => r.id === id))
      .find((i) => i >= 0);
    if (place !== undefined) return { launcherId: launcher.id, name: `${launcher.name}, greeting ${place + 1}` };
  }
  return null;
}
