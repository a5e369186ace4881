import { useQuery } from '@tanstack/react-query';
import { groupsQuery, segmentsQuery, sourcesQuery } from '../catalogue/api';
import { useDesk } from '../session/desk';
import { type Names, NO_NAMES } from './model';

/** What a brief may name on this site; nothing while it is being fetched. */
export function useNames(): Names {
  const { site } = useDesk();
  const { data: sources = NO_NAMES.sources } = useQuery(sourcesQuery(site.id));
  const { data: segments = NO_NAMES.segments } = useQuery(segmentsQuery(site.id));
  const { data: groups = NO_NAMES.groups } = useQuery(groupsQuery(site.id));
  return { sources, segments, groups };
}
