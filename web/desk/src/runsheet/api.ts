import { queryOptions } from '@tanstack/react-query';
import { answered, client, type Schema } from '../lib/api';

export type Lane = Schema<'LaneView'>;
export type Showing = Schema<'ShowingView'>;
export type NotShown = Schema<'NotShownView'>;
export type Persona = Schema<'Persona'>;

export const runSheetQuery = (siteId: string, persona: Persona) =>
  queryOptions({
    queryKey: ['run-sheet', siteId, persona],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/run-sheet', { params: { path: { siteId }, query: { persona } } })),
    placeholderData: (before) => before,
  });
