import { infiniteQueryOptions, queryOptions } from '@tanstack/react-query';
import { answered, client, Refusal, type Schema } from '../data/api';

export type Talk = Schema<'TalkView'>;
export type TalkDetail = Schema<'TalkDetailView'>;
export type TalkWord = Schema<'TalkWordView'>;
export type SavedReply = Schema<'SavedReplyView'>;
export type Answering = Schema<'AnsweringView'>;
export type Queue = 'open' | 'mine' | 'unclaimed' | 'others' | 'snoozed' | 'closed' | 'blocked' | 'all';

const of = (siteId: string) => ({ params: { path: { siteId } } });
const at = (siteId: string, talkId: string) => ({ params: { path: { siteId, talkId } } });

export const talksQuery = (siteId: string, queue: Queue, words: string, waits: boolean, group: string) =>
  infiniteQueryOptions({
    queryKey: ['talks', siteId, queue, words, waits, group],
    queryFn: ({ pageParam }) =>
      answered(
        client.GET('/api/sites/{siteId}/talks', {
          params: {
            path: { siteId },
            query: {
              Queue: queue,
              ...(words && { Words: words }),
              ...(waits && { Waits: true }),
              ...(group && { Group: group }),
              ...(pageParam && { After: pageParam }),
            },
          },
        }),
      ),
    initialPageParam: '',
    getNextPageParam: (page) => page.next ?? undefined,
    placeholderData: (before) => before,
    // Waiting grows by itself.
    refetchInterval: 30_000,
  });

export const countsQuery = (siteId: string) =>
  queryOptions({
    queryKey: ['talk-counts', siteId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/talks/counts', of(siteId))),
    refetchInterval: 60_000,
  });

export const talkQuery = (siteId: string, talkId: string) =>
  queryOptions({
    queryKey: ['talk', siteId, talkId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/talks/{talkId}', at(siteId, talkId))),
  });

/** What is recorded of whom one talks with; null while nothing is. */
export const whoQuery = (siteId: string, visitorId: string) =>
  queryOptions({
    // Of its own name: a word that is said changes nothing of what is recorded.
    queryKey: ['talk-who', siteId, visitorId],
    refetchInterval: 30_000,
    queryFn: () =>
      answered(client.GET('/api/sites/{siteId}/visitors/{visitorId}', { params: { path: { siteId, visitorId } } })).catch(
        (error: unknown) => {
          if (error instanceof Refusal && error.status === 404) return null;
          throw error;
        },
      ),
  });

export const earlierWords = (siteId: string, talkId: string, before: number) =>
  answered(client.GET('/api/sites/{siteId}/talks/{talkId}', { params: { path: { siteId, talkId }, query: { before } } }));

export const sayInTalk = (siteId: string, talkId: string, body: Schema<'AnswerRequest'>) =>
  answered(client.POST('/api/sites/{siteId}/talks/{talkId}/words', { ...at(siteId, talkId), body }));

/** Sends a file as it is; the server looks into it. */
export const sendFile = (siteId: string, talkId: string, id: string, file: File): Promise<TalkDetail> =>
  answered(
    client.POST('/api/sites/{siteId}/talks/{talkId}/files', {
      params: { path: { siteId, talkId }, query: { id, name: file.name } },
      body: file as never,
      bodySerializer: (body) => body as never,
      headers: { 'Content-Type': 'application/octet-stream' },
    }),
  );

/** Talks of one visitor, the latest first. */
export const ofVisitorQuery = (siteId: string, visitorId: string) =>
  queryOptions({
    queryKey: ['talks', siteId, 'of', visitorId],
    queryFn: () =>
      answered(client.GET('/api/sites/{siteId}/talks', { params: { path: { siteId }, query: { Queue: 'all', Visitor: visitorId } } })),
  });

export const mergeTalk = (siteId: string, talkId: string, intoId: string) =>
  answered(client.POST('/api/sites/{siteId}/talks/{talkId}/merge', { ...at(siteId, talkId), body: { intoId } }));

export const assignTalk = (siteId: string, talkId: string, body: Schema<'AssignRequest'>) =>
  answered(client.POST('/api/sites/{siteId}/talks/{talkId}/assign', { ...at(siteId, talkId), body }));

export const callOffBooking = (siteId: string, talkId: string) =>
  answered(client.DELETE('/api/sites/{siteId}/talks/{talkId}/booking', at(siteId, talkId)));

export const snoozeTalk = (siteId: string, talkId: string, until: string) =>
  answered(client.POST('/api/sites/{siteId}/talks/{talkId}/snooze', { ...at(siteId, talkId), body: { until } }));

export const closeTalk = (siteId: string, talkId: string, reason: string) =>
  answered(client.POST('/api/sites/{siteId}/talks/{talkId}/close', { ...at(siteId, talkId), body: { reason } }));

export const reopenTalk = (siteId: string, talkId: string) =>
  answered(client.POST('/api/sites/{siteId}/talks/{talkId}/reopen', at(siteId, talkId)));

export const tagTalk = (siteId: string, talkId: string, tags: string[]) =>
  answered(client.PUT('/api/sites/{siteId}/talks/{talkId}/tags', { ...at(siteId, talkId), body: { tags } }));

export const nameVisitor = (siteId: string, talkId: string, name: string) =>
  answered(client.PUT('/api/sites/{siteId}/talks/{talkId}/name', { ...at(siteId, talkId), body: { name } }));

export const blockVisitor = (siteId: string, talkId: string, blocked: boolean) =>
  answered(client.PUT('/api/sites/{siteId}/talks/{talkId}/blocked', { ...at(siteId, talkId), body: { blocked } }));

/** Nobody waits for these two, and a failure of theirs is no news. */
export const typeInTalk = (siteId: string, talkId: string) =>
  client.POST('/api/sites/{siteId}/talks/{talkId}/types', at(siteId, talkId)).catch(() => undefined);

export const seeTalk = (siteId: string, talkId: string, number: number) =>
  client.POST('/api/sites/{siteId}/talks/{talkId}/seen', { ...at(siteId, talkId), body: { number } }).catch(() => undefined);

export const repliesQuery = (siteId: string) =>
  queryOptions({
    queryKey: ['saved-replies', siteId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/saved-replies', of(siteId))),
  });

export const addReply = (siteId: string, body: Schema<'SavedReplyRequest'>) =>
  answered(client.POST('/api/sites/{siteId}/saved-replies', { ...of(siteId), body }));

export const changeReply = (siteId: string, replyId: string, body: Schema<'SavedReplyRequest'>) =>
  answered(client.PUT('/api/sites/{siteId}/saved-replies/{replyId}', { params: { path: { siteId, replyId } }, body }));

export const removeReply = (siteId: string, replyId: string) =>
  answered(client.DELETE('/api/sites/{siteId}/saved-replies/{replyId}', { params: { path: { siteId, replyId } } }));
