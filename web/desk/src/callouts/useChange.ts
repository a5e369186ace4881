import { useMutation, useQueryClient } from '@tanstack/react-query';
import type { Brief } from '../brief/types';
import { answered, client, Refusal } from '../data/api';
import { useDesk } from '../session/desk';
import { calloutQuery } from './api';

/** What is to become of a changed brief. */
export type Into = 'live' | 'draft';

/**
 * Makes a change to a callout's brief from elsewhere than its composer: keeps it as the draft, or publishes it at once.
 *
 * Nothing else that is still unpublished goes live along with it: then it refuses, and the change is kept as nothing.
 */
export function useChange() {
  const { site } = useDesk();
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async ({ calloutId, brief, into }: { calloutId: string; brief: Brief; into: Into }) => {
      const known = await queries.fetchQuery({ ...calloutQuery(site.id, calloutId), staleTime: 0 });
      const pending = known.live !== null && JSON.stringify(known.live) !== JSON.stringify(known.draft);
      if (pending)
        throw new Refusal(
          409,
          'It has a draft',
          `"${known.name}" has changes that are not published yet. Publish or undo them in its brief first; nothing was changed.`,
        );
      const path = { path: { siteId: site.id, id: calloutId } };
      const saved = await answered(
        client.PUT('/api/sites/{siteId}/callouts/{id}/draft', {
          params: path,
          body: { name: known.name, content: brief, version: known.draftVersion },
        }),
      );
      if (into === 'draft') return saved;
      return await answered(
        client.POST('/api/sites/{siteId}/callouts/{id}/publish', { params: path, body: { version: saved.draftVersion } }),
      );
    },
    onSettled: () => {
      for (const key of ['callout', 'callouts', 'run-sheet']) void queries.invalidateQueries({ queryKey: [key] });
    },
  });
}
