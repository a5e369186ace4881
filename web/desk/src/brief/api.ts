import { answered, client, type Schema } from '../data/api';

/** Sends the mail that asks to confirm to whoever wrote it. */
export const sendTestConfirm = (siteId: string, ask: Schema<'AskFacet'>, language: string) =>
  answered(client.POST('/api/sites/{siteId}/prompts/test-mail', { params: { path: { siteId } }, body: { ask, language } }));
