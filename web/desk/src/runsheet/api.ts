import { queryOptions } from '@tanstack/react-query';
import { answered, client, type Schema } from '../data/api';

export type Lane = Schema<'LaneView'>;
export type LaneDetail = Schema<'LaneDetailView'>;
export type Showing = Schema<'ShowingView'>;
export type Waiting = Schema<'WaitingView'>;
export type NotShown = Schema<'NotShownView'>;
export type Persona = Schema<'Persona'>;
export type Difference = Schema<'LaneDifferenceView'>;
export type OffSheet = Schema<'OffSheetView'>;
export type Mend = Schema<'MendView'>;

/** Whose sheet, as of when, with which change tried out: as it stands in the address. */
export interface SheetSearch {
  persona?: Persona | undefined;
  segment?: string | undefined;
  device?: Schema<'Device'> | undefined;
  language?: string | undefined;
  at?: string | undefined;
  trying?: string | undefined;
}

export const runSheetQuery = (siteId: string, search: SheetSearch) =>
  queryOptions({
    queryKey: ['run-sheet', siteId, search],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/run-sheet', { params: { path: { siteId }, query: search } })),
    placeholderData: (before) => before,
  });

export const laneQuery = (siteId: string, groupId: string, search: SheetSearch) =>
  queryOptions({
    queryKey: ['run-sheet', siteId, 'lane', groupId, search],
    queryFn: () =>
      answered(
        client.GET('/api/sites/{siteId}/run-sheet/lanes/{groupId}', {
          params: { path: { siteId, groupId }, query: search },
        }),
      ),
    placeholderData: (before) => before,
  });

/** A share of visitors in words: "half", "80 %". */
export const shareWords = (percent: number) => (percent === 50 ? 'half' : `${percent} %`);
