import { queryOptions } from '@tanstack/react-query';
import { answered, client, type Schema } from '../data/api';
import type { Shelf } from '../data/shelf';

export type FollowUpDefinition = Schema<'FollowUpView'>;
export type FollowUp = Schema<'FollowUp'>;
export type FollowStep = FollowUp['steps'][number];
export type FollowWords = FollowStep['words'][number];
/** Why it is over for somebody. */
export type FollowEnd = 'through' | 'withdrew' | 'unreachable' | 'goal' | 'talked';

const at = (siteId: string, id: string) => ({ params: { path: { siteId, id } } });

export const followUpsQuery = (siteId: string, shelf?: Shelf) =>
  queryOptions({
    queryKey: ['followups', siteId, shelf ?? 'current'],
    queryFn: () =>
      answered(client.GET('/api/sites/{siteId}/followups', { params: { path: { siteId }, query: shelf ? { [shelf]: true } : {} } })),
  });

export const fetchFollowUp = (siteId: string, id: string) => answered(client.GET('/api/sites/{siteId}/followups/{id}', at(siteId, id)));

export const followUpQuery = (siteId: string, id: string) =>
  queryOptions({ queryKey: ['followup', siteId, id], queryFn: () => fetchFollowUp(siteId, id) });

export const followUpRevisionsQuery = (siteId: string, id: string) =>
  queryOptions({
    queryKey: ['followup', siteId, id, 'revisions'],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/followups/{id}/revisions', at(siteId, id))),
  });

/** Who is at which step, and why it is over for whom. */
export const followFiguresQuery = (siteId: string, followUpId: string) =>
  queryOptions({
    queryKey: ['followup', siteId, followUpId, 'figures'],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/followups/{followUpId}/figures', { params: { path: { siteId, followUpId } } })),
    refetchInterval: 30_000,
  });

/** What an imagined person would get when. */
export const calendarQuery = (siteId: string, body: Schema<'RehearseFollowUpRequest'>) =>
  queryOptions({
    queryKey: ['followup-calendar', siteId, body],
    queryFn: () => answered(client.POST('/api/sites/{siteId}/followups/rehearse', { params: { path: { siteId } }, body })),
    placeholderData: (before) => before,
  });

export const startFollowUp = (siteId: string) => answered(client.POST('/api/sites/{siteId}/followups', { params: { path: { siteId } } }));

/** Sends a mail to whoever wrote it. */
export const sendTestMail = (siteId: string, step: FollowStep, language: string) =>
  answered(client.POST('/api/sites/{siteId}/followups/test-mail', { params: { path: { siteId } }, body: { step, language } }));

export const saveFollowUp = (siteId: string, id: string, name: string, content: FollowUp, version: number) =>
  answered(client.PUT('/api/sites/{siteId}/followups/{id}/draft', { ...at(siteId, id), body: { name, content, version } }));

export const publishFollowUp = (siteId: string, id: string, version: number) =>
  answered(client.POST('/api/sites/{siteId}/followups/{id}/publish', { ...at(siteId, id), body: { version } }));

export const pauseFollowUp = (siteId: string, id: string) =>
  answered(client.POST('/api/sites/{siteId}/followups/{id}/pause', at(siteId, id)));

export const resumeFollowUp = (siteId: string, id: string) =>
  answered(client.POST('/api/sites/{siteId}/followups/{id}/resume', at(siteId, id)));
