import { type InfiniteData, infiniteQueryOptions, queryOptions } from '@tanstack/react-query';
import { answered, client, Refusal, type Schema, token } from '../data/api';
import type { Renewal } from '../data/queries';

export type LedgerEvent = Schema<'EventView'>;
export type SourceSettings = Schema<'SourceSettings'>;
export type Preview = Schema<'PreviewView'>;
export type EventMap = Schema<'EventMap'>;
export type FoundForm = Schema<'FoundFormView'>;
export type Upload = Schema<'UploadView'>;
export type Import = Schema<'ImportView'>;
export type Held = Schema<'HeldOnPerson'>;
export type Care = Schema<'CareView'>;

/** What the ledger is filtered by; all of it stands in the address. */
export interface LedgerFilter {
  source?: string;
  kind?: string;
  state?: string;
  page?: string;
  text?: string;
  hours?: number;
}

const site = (siteId: string) => ({ params: { path: { siteId } } });
const sourceOf = (siteId: string, sourceId: string) => ({ params: { path: { siteId, sourceId } } });

/** The filter as the server's address wants it; all time is no hours at all. */
const asked = ({ hours, ...rest }: LedgerFilter) => ({ ...rest, ...(hours ? { hours } : {}) });

const fetchEvents = (siteId: string, filter: LedgerFilter, after?: string) =>
  answered(
    client.GET('/api/sites/{siteId}/events', {
      params: { path: { siteId }, query: { ...asked(filter), ...(after ? { after } : {}) } },
    }),
  );

type EventPage = Awaited<ReturnType<typeof fetchEvents>>;

/** The pages one has, with a newer first page: what is new stands in front, what it tells of known events is taken over. */
export function withNewest(pages: readonly EventPage[], newest: EventPage): EventPage[] {
  const [first, ...rest] = pages;
  if (!first) return [newest];
  const told = new Map(newest.events.map((e) => [e.id, e]));
  const known = new Set(pages.flatMap((p) => p.events.map((e) => e.id)));
  // Nothing in common: more came than a page holds, and what lies between is not known.
  if (first.events.length > 0 && !newest.events.some((e) => known.has(e.id))) return [newest];
  // What the newest page reaches back to and does not tell any more is gone, as deleted or out of the filter.
  const reach = newest.next ? Date.parse(newest.events[newest.events.length - 1]?.at ?? '') : Number.NEGATIVE_INFINITY;
  const own = first.events.filter((e) => told.has(e.id) || Date.parse(e.at) < reach).map((e) => told.get(e.id) ?? e);
  return [{ ...newest, events: [...newest.events.filter((e) => !known.has(e.id)), ...own], next: first.next }, ...rest];
}

export const eventsQuery = (siteId: string, filter: LedgerFilter) =>
  infiniteQueryOptions({
    queryKey: ['events', siteId, filter],
    initialPageParam: undefined as string | undefined,
    queryFn: ({ pageParam }) => fetchEvents(siteId, filter, pageParam),
    getNextPageParam: (page) => page.next ?? undefined,
    // Where one has read far down, a purchase must not have all of it fetched again.
    meta: {
      renew: async (queries, queryKey) => {
        const newest = await fetchEvents(siteId, filter);
        queries.setQueryData<InfiniteData<EventPage>>(queryKey, (data) => data && withOf(data, withNewest(data.pages, newest)));
      },
    } satisfies Renewal as unknown as Record<string, unknown>,
  });

const withOf = (data: InfiniteData<EventPage>, pages: EventPage[]): InfiniteData<EventPage> => ({
  pages,
  pageParams: data.pageParams.slice(0, pages.length),
});

export const eventQuery = (siteId: string, eventId: string) =>
  queryOptions({
    queryKey: ['event', siteId, eventId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/events/{eventId}', { params: { path: { siteId, eventId } } })),
  });

export type EventAct = Schema<'EventAct'>;

export const changeEvents = (siteId: string, act: EventAct, ids: string[], all?: LedgerFilter) =>
  answered(
    client.POST('/api/sites/{siteId}/events/change', {
      ...site(siteId),
      body: { act, ids, ...(all ? { all: asked(all) as Schema<'EventFilter'> } : {}) },
    }),
  );

export const correctEvent = (siteId: string, eventId: string, fields: Record<string, string>) =>
  answered(client.POST('/api/sites/{siteId}/events/{eventId}/correct', { params: { path: { siteId, eventId } }, body: { fields } }));

export const addSource = (siteId: string, body: Schema<'AddSourceRequest'>) =>
  answered(client.POST('/api/sites/{siteId}/sources', { ...site(siteId), body }));

export const changeSource = (siteId: string, sourceId: string, body: Schema<'ChangeSourceRequest'>) =>
  answered(client.PUT('/api/sites/{siteId}/sources/{sourceId}', { ...sourceOf(siteId, sourceId), body }));

export type Shop = Schema<'ShopView'>;

export const shopQuery = (siteId: string) =>
  queryOptions({
    queryKey: ['shop', siteId],
    queryFn: async () => (await answered(client.GET('/api/sites/{siteId}/shop', site(siteId)))).shop,
  });

export const makeShopKey = (siteId: string) => answered(client.POST('/api/sites/{siteId}/shop/key', site(siteId)));

export const disconnectShop = (siteId: string) => answered(client.DELETE('/api/sites/{siteId}/shop', site(siteId)));

export const pauseSource = (siteId: string, sourceId: string, pause: boolean) =>
  pause
    ? answered(client.POST('/api/sites/{siteId}/sources/{sourceId}/pause', sourceOf(siteId, sourceId)))
    : answered(client.POST('/api/sites/{siteId}/sources/{sourceId}/resume', sourceOf(siteId, sourceId)));

export const deleteSource = (siteId: string, sourceId: string) =>
  answered(client.DELETE('/api/sites/{siteId}/sources/{sourceId}', sourceOf(siteId, sourceId)));

export const rotateSecret = (siteId: string, sourceId: string) =>
  answered(client.POST('/api/sites/{siteId}/sources/{sourceId}/secret', sourceOf(siteId, sourceId)));

export const sendTest = (siteId: string, sourceId: string) =>
  answered(client.POST('/api/sites/{siteId}/sources/{sourceId}/test', sourceOf(siteId, sourceId)));

export const fetchNow = (siteId: string, sourceId: string) =>
  answered(client.POST('/api/sites/{siteId}/sources/{sourceId}/fetch', sourceOf(siteId, sourceId)));

export const enterByHand = (siteId: string, sourceId: string, body: Schema<'EntryRequest'>) =>
  answered(client.POST('/api/sites/{siteId}/sources/{sourceId}/entries', { ...sourceOf(siteId, sourceId), body }));

export const previewMap = (siteId: string, body: Schema<'PreviewMapRequest'>) =>
  answered(client.POST('/api/sites/{siteId}/sources/preview-map', { ...site(siteId), body }));

export const previewList = (siteId: string, body: Schema<'PreviewListRequest'>) =>
  answered(client.POST('/api/sites/{siteId}/sources/preview-list', { ...site(siteId), body }));

export const deliveriesQuery = (siteId: string, sourceId: string) =>
  queryOptions({
    queryKey: ['deliveries', siteId, sourceId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/sources/{sourceId}/deliveries', sourceOf(siteId, sourceId))),
  });

const deliveryOf = (siteId: string, sourceId: string, deliveryId: string) => ({ params: { path: { siteId, sourceId, deliveryId } } });

export const deliveryQuery = (siteId: string, sourceId: string, deliveryId: string) =>
  queryOptions({
    queryKey: ['delivery', siteId, sourceId, deliveryId],
    queryFn: () =>
      answered(client.GET('/api/sites/{siteId}/sources/{sourceId}/deliveries/{deliveryId}', deliveryOf(siteId, sourceId, deliveryId))),
  });

export const resend = (siteId: string, sourceId: string, deliveryId: string) =>
  answered(client.POST('/api/sites/{siteId}/sources/{sourceId}/deliveries/{deliveryId}/resend', deliveryOf(siteId, sourceId, deliveryId)));

export const formsQuery = (siteId: string) =>
  queryOptions({
    queryKey: ['forms', siteId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/forms', site(siteId))),
    refetchInterval: 10_000,
  });

export const findForms = (siteId: string, address: string) =>
  answered(client.POST('/api/sites/{siteId}/forms/find', { ...site(siteId), body: { address } }));

/** Brings a file as it is; `told` hears how much of it has gone, as a share. The browser's own fetch cannot tell. */
export function uploadFile(siteId: string, file: File, told: (share: number) => void): Promise<Upload> {
  return new Promise((done, failed) => {
    const request = new XMLHttpRequest();
    request.open('POST', `/api/sites/${siteId}/uploads?name=${encodeURIComponent(file.name)}`);
    request.setRequestHeader('X-Outcry-Antiforgery', token());
    request.setRequestHeader('content-type', 'application/octet-stream');
    request.upload.onprogress = (event) => event.lengthComputable && told(event.loaded / event.total);
    request.onerror = () => failed(new Refusal(0, 'The desk is not reachable', 'The file did not arrive. Try again; nothing was kept.'));
    request.onload = () => {
      try {
        const answer = JSON.parse(request.responseText);
        if (request.status < 300) done(answer);
        else failed(new Refusal(request.status, answer.title, answer.detail, answer.field));
      } catch {
        failed(new Refusal(request.status, 'That did not work', 'The file was not taken.'));
      }
    };
    request.send(file);
  });
}

export const previewImport = (siteId: string, uploadId: string, body: Schema<'ImportPreviewRequest'>) =>
  answered(client.POST('/api/sites/{siteId}/uploads/{uploadId}/preview', { params: { path: { siteId, uploadId } }, body }));

export const beginImport = (siteId: string, body: Schema<'BeginImportRequest'>) =>
  answered(client.POST('/api/sites/{siteId}/imports', { ...site(siteId), body }));

export const importsQuery = (siteId: string) =>
  queryOptions({
    queryKey: ['imports', siteId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/imports', site(siteId))),
    refetchInterval: (query) => (query.state.data?.some((i) => i.state === 'running') ? 700 : false),
  });

export const cancelImport = (siteId: string, importId: string) =>
  answered(client.POST('/api/sites/{siteId}/imports/{importId}/cancel', { params: { path: { siteId, importId } } }));

export const findPerson = (siteId: string, body: Schema<'PersonRequest'>) =>
  answered(client.POST('/api/sites/{siteId}/people/find', { ...site(siteId), body }));

export const erasePerson = (siteId: string, body: Schema<'EraseRequest'>) =>
  answered(client.POST('/api/sites/{siteId}/people/erase', { ...site(siteId), body }));

export const erasuresQuery = (siteId: string) =>
  queryOptions({
    queryKey: ['erasures', siteId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/people/erasures', site(siteId))),
  });

export const viewsQuery = (siteId: string) =>
  queryOptions({
    queryKey: ['views', siteId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/views', site(siteId))),
  });

export const saveView = (siteId: string, name: string, query: string) =>
  answered(client.POST('/api/sites/{siteId}/views', { ...site(siteId), body: { name, query } }));

export const deleteView = (siteId: string, viewId: string) =>
  answered(client.DELETE('/api/sites/{siteId}/views/{viewId}', { params: { path: { siteId, viewId } } }));

export const setCare = (siteId: string, body: Schema<'CareRequest'>) =>
  answered(client.PUT('/api/sites/{siteId}/care', { ...site(siteId), body }));

export const suppliedWordsQuery = (siteId: string) =>
  queryOptions({
    queryKey: ['words', siteId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/care/words', site(siteId))),
    staleTime: Number.POSITIVE_INFINITY,
  });

export const tryWords = (siteId: string, text: string) =>
  answered(client.POST('/api/sites/{siteId}/care/words/try', { ...site(siteId), body: { text } }));

/** Fetches an export, telling how many rows have come of how many; `stop` breaks it off. */
export async function exportEvents(
  siteId: string,
  format: 'csv' | 'ndjson',
  filter: LedgerFilter,
  told: (rows: number, of: number) => void,
  stop: AbortSignal,
): Promise<Blob> {
  const query = new URLSearchParams(Object.entries(asked(filter)).map(([k, v]) => [k, String(v)]));
  const answer = await fetch(`/api/sites/${siteId}/events/export.${format}?${query}`, { signal: stop });
  if (!answer.ok || !answer.body) {
    const problem = await answer.json().catch(() => ({}));
    throw new Refusal(answer.status, problem.title ?? 'That did not work', problem.detail ?? 'The export was refused.');
  }
  const of = Number(answer.headers.get('X-Outcry-Rows') ?? 0);
  const parts: Uint8Array<ArrayBuffer>[] = [];
  let rows = format === 'csv' ? -1 : 0;
  const reader = answer.body.getReader();
  for (let part = await reader.read(); !part.done; part = await reader.read()) {
    parts.push(part.value);
    for (const byte of part.value) if (byte === 10) rows++;
    told(Math.max(0, Math.min(rows, of)), of);
  }
  return new Blob(parts, { type: format === 'csv' ? 'text/csv' : 'application/x-ndjson' });
}
