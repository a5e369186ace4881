import { queryOptions } from '@tanstack/react-query';
import { answered, client, type Schema } from '../data/api';
import { type Journey, trimmed } from './model';

export type Visitor = Schema<'ImaginedVisitor'>;
export type PlannedPage = Schema<'PlannedPage'>;
export type PlayedPage = Schema<'PlayedPageView'>;

/** Plays a visit; with `before`, tells what the fact that was changed since then changes. */
export const playQuery = (siteId: string, journey: Journey, before: Partial<Visitor> | undefined) =>
  queryOptions({
    queryKey: ['rehearsal', siteId, journey, before],
    queryFn: () =>
      answered(
        client.POST('/api/sites/{siteId}/rehearsals', {
          params: { path: { siteId } },
          body: {
            visitor: trimmed(journey.visitor),
            pages: journey.pages,
            at: journey.at ?? null,
            before: before ? trimmed(before) : null,
            draft: journey.draft ?? null,
          },
        }),
      ),
    placeholderData: (last) => last,
  });

export const openTrial = (siteId: string, body: Schema<'TrialRequest'>) =>
  answered(client.POST('/api/sites/{siteId}/trials', { params: { path: { siteId } }, body }));

export const castVisitor = (siteId: string, segment: string, from: Partial<Visitor>) =>
  answered(client.POST('/api/sites/{siteId}/cast', { params: { path: { siteId } }, body: { segment, from: trimmed(from) } }));

export const recordedQuery = (siteId: string, segment: string | undefined) =>
  queryOptions({
    queryKey: ['visitors', siteId, segment, 'recorded'],
    queryFn: () =>
      answered(client.GET('/api/sites/{siteId}/visitors', { params: { path: { siteId }, query: segment ? { segment } : {} } })),
    staleTime: 60_000,
  });

export const fetchJourney = (siteId: string, visitorId: string, number: number) =>
  answered(
    client.GET('/api/sites/{siteId}/visitors/{visitorId}/visits/{number}/journey', {
      params: { path: { siteId, visitorId, number } },
    }),
  );
