import { infiniteQueryOptions, queryOptions } from '@tanstack/react-query';
import { answered, client, type Schema } from '../data/api';

export type Lead = Schema<'LeadView'>;
export type LeadDetail = Schema<'LeadDetailView'>;
export type LeadState = Lead['state'];
export type Pool = Schema<'CodePoolView'>;

/** What the table is narrowed to. */
export interface LeadFilter {
  words?: string | undefined;
  state?: LeadState | undefined;
  tag?: string | undefined;
  callout?: string | undefined;
  tests?: true | undefined;
}

const queryOf = (filter: LeadFilter) => ({
  ...(filter.words && { Words: filter.words }),
  ...(filter.state && { State: filter.state }),
  ...(filter.tag && { Tag: filter.tag }),
  ...(filter.callout && { Callout: filter.callout }),
  ...(filter.tests && { Tests: true }),
});

export const leadsQuery = (siteId: string, filter: LeadFilter) =>
  infiniteQueryOptions({
    queryKey: ['leads', siteId, filter],
    queryFn: ({ pageParam }) =>
      answered(
        client.GET('/api/sites/{siteId}/leads', {
          params: { path: { siteId }, query: { ...queryOf(filter), ...(pageParam && { After: pageParam }) } },
        }),
      ),
    initialPageParam: '',
    getNextPageParam: (page) => page.next ?? undefined,
    placeholderData: (before) => before,
  });

export const leadQuery = (siteId: string, leadId: string) =>
  queryOptions({
    queryKey: ['lead', siteId, leadId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/leads/{leadId}', { params: { path: { siteId, leadId } } })),
  });

/** Where the browser fetches what is listed as a file. */
export function exportAddress(siteId: string, format: 'csv' | 'vcf', filter: LeadFilter): string {
  const query = new URLSearchParams(Object.entries(queryOf(filter)).map(([k, v]) => [k.toLowerCase(), String(v)]));
  return `/api/sites/${siteId}/leads/export.${format}?${query}`;
}

export const tagLeads = (siteId: string, leads: string[], tag: string, takes: boolean) =>
  answered(client.POST('/api/sites/{siteId}/leads/tags', { params: { path: { siteId } }, body: { leads, tag, takes } }));

export const withdrawLead = (siteId: string, leadId: string) =>
  answered(client.POST('/api/sites/{siteId}/leads/{leadId}/withdraw', { params: { path: { siteId, leadId } } }));

export const eraseLead = (siteId: string, leadId: string) =>
  answered(client.DELETE('/api/sites/{siteId}/leads/{leadId}', { params: { path: { siteId, leadId } } }));

export const askedQuery = (siteId: string, calloutId: string) =>
  queryOptions({
    queryKey: ['leads', siteId, 'asked', calloutId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/callouts/{calloutId}/asked', { params: { path: { siteId, calloutId } } })),
  });

export const addCodes = (siteId: string, name: string, codes: string) =>
  answered(client.POST('/api/sites/{siteId}/rewards/codes', { params: { path: { siteId } }, body: { name, codes } }));

export const removePool = (siteId: string, poolId: string) =>
  answered(client.DELETE('/api/sites/{siteId}/rewards/codes/{poolId}', { params: { path: { siteId, poolId } } }));

export const addFile = (siteId: string, file: File) =>
  answered(
    client.POST('/api/sites/{siteId}/rewards/files', {
      params: { path: { siteId }, query: { name: file.name } },
      body: file as never,
      bodySerializer: (body) => body as never,
      headers: { 'Content-Type': 'application/octet-stream' },
    }),
  );

export const removeFile = (siteId: string, fileId: string) =>
  answered(client.DELETE('/api/sites/{siteId}/rewards/files/{fileId}', { params: { path: { siteId, fileId } } }));

export type Webhook = Schema<'WebhookView'>;

const hookAt = (siteId: string, hookId: string) => ({ params: { path: { siteId, hookId } } });

export const webhooksQuery = (siteId: string) =>
  queryOptions({
    queryKey: ['webhooks', siteId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/webhooks', { params: { path: { siteId } } })),
    // What is on its way is taken within seconds.
    refetchInterval: 5_000,
  });

export const addWebhook = (siteId: string, body: Schema<'WebhookRequest'>) =>
  answered(client.POST('/api/sites/{siteId}/webhooks', { params: { path: { siteId } }, body }));

export const changeWebhook = (siteId: string, hookId: string, body: Schema<'WebhookRequest'>) =>
  answered(client.PUT('/api/sites/{siteId}/webhooks/{hookId}', { ...hookAt(siteId, hookId), body }));

export const removeWebhook = (siteId: string, hookId: string) =>
  answered(client.DELETE('/api/sites/{siteId}/webhooks/{hookId}', hookAt(siteId, hookId)));

export const testWebhook = (siteId: string, hookId: string) =>
  answered(client.POST('/api/sites/{siteId}/webhooks/{hookId}/test', hookAt(siteId, hookId)));

export const sendAgain = (siteId: string, hookId: string, messageId: string) =>
  answered(
    client.POST('/api/sites/{siteId}/webhooks/{hookId}/messages/{messageId}/again', { params: { path: { siteId, hookId, messageId } } }),
  );

export type ImportedLeads = Schema<'ImportedLeadsView'>;

/** Reads a file of people; as a try it changes nothing. */
export const importLeads = (siteId: string, file: File, dryRun: boolean): Promise<ImportedLeads> =>
  answered(
    client.POST('/api/sites/{siteId}/leads/import', {
      params: { path: { siteId }, query: { name: file.name, dryRun } },
      body: file as never,
      bodySerializer: (body) => body as never,
      headers: { 'Content-Type': 'application/octet-stream' },
    }),
  );
