import { answered, client } from '../data/api';

/** Puts a launcher's draft live, as it was looked at. */
export const publishLauncherDraft = (siteId: string, id: string, version: number) =>
  answered(client.POST('/api/sites/{siteId}/launchers/{id}/publish', { params: { path: { siteId, id } }, body: { version } }));
