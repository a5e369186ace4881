import type { Brief, Callout } from '../brief/types';
import { calloutQuery } from '../callouts/api';
import { useDefinitionDraft } from '../drafting/useDefinitionDraft';
import { saveDraft } from './api';

const wordsOf = ({ say }: Brief) => [say.message, ...say.translations.map((t) => t.message)].join('\n\n');

/** Holds the brief being written and saves it by itself. */
export function useDraft(siteId: string, callout: Callout) {
  const query = calloutQuery(siteId, callout.id);
  return useDefinitionDraft<Brief, Callout>(callout, {
    noun: 'callout',
    queryKey: query.queryKey,
    fetch: async () => (query.queryFn as () => Promise<Callout>)(),
    save: (name, content, version) => saveDraft(siteId, callout.id, name, content, version),
    // Starter words that were left alone follow what the brief draws on: the server words them.
    isSettled: (saved, sent) => wordsOf(saved) === wordsOf(sent),
  });
}
