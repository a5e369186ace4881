import { queryOptions } from '@tanstack/react-query';
import { answered, client, type Schema } from '../data/api';
import type { Shelf } from '../data/shelf';

export type ScriptDefinition = Schema<'ScriptView'>;
export type Script = Schema<'Script'>;
export type Step = Script['steps'][number];
export type StepKind = Step['kind'];
export type Purpose = Schema<'ScriptPurpose'>;
export type TryRequest = Schema<'TryScriptRequest'>;

const at = (siteId: string, id: string) => ({ params: { path: { siteId, id } } });

export const scriptsQuery = (siteId: string, shelf?: Shelf) =>
  queryOptions({
    queryKey: ['scripts', siteId, shelf ?? 'current'],
    queryFn: () =>
      answered(client.GET('/api/sites/{siteId}/scripts', { params: { path: { siteId }, query: shelf ? { [shelf]: true } : {} } })),
  });

export const fetchScript = (siteId: string, id: string) => answered(client.GET('/api/sites/{siteId}/scripts/{id}', at(siteId, id)));

export const scriptQuery = (siteId: string, id: string) =>
  queryOptions({ queryKey: ['script', siteId, id], queryFn: () => fetchScript(siteId, id) });

export const scriptRevisionsQuery = (siteId: string, id: string) =>
  queryOptions({
    queryKey: ['script', siteId, id, 'revisions'],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/scripts/{id}/revisions', at(siteId, id))),
  });

export const startScript = (siteId: string, purpose: Purpose) =>
  answered(client.POST('/api/sites/{siteId}/scripts', { params: { path: { siteId } }, body: { purpose } }));

export const saveScript = (siteId: string, id: string, name: string, content: Script, version: number) =>
  answered(client.PUT('/api/sites/{siteId}/scripts/{id}/draft', { ...at(siteId, id), body: { name, content, version } }));

export const publishScript = (siteId: string, id: string, version: number) =>
  answered(client.POST('/api/sites/{siteId}/scripts/{id}/publish', { ...at(siteId, id), body: { version } }));

export const pauseScript = (siteId: string, id: string) => answered(client.POST('/api/sites/{siteId}/scripts/{id}/pause', at(siteId, id)));

export const resumeScript = (siteId: string, id: string) =>
  answered(client.POST('/api/sites/{siteId}/scripts/{id}/resume', at(siteId, id)));

export type Try = NonNullable<Script['tries']>[number];

/** How many of the latest talks came to each step. */
export const reachQuery = (siteId: string, scriptId: string) =>
  queryOptions({
    queryKey: ['script', siteId, scriptId, 'reach'],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/scripts/{scriptId}/reach', { params: { path: { siteId, scriptId } } })),
    staleTime: 60_000,
  });

/** Plays a script as it is on the screen. */
export const triedQuery = (siteId: string, body: TryRequest) =>
  queryOptions({
    queryKey: ['script-tried', siteId, body],
    queryFn: () => answered(client.POST('/api/sites/{siteId}/scripts/try', { params: { path: { siteId } }, body })),
    placeholderData: (before) => before,
    staleTime: Number.POSITIVE_INFINITY,
  });
