import { queryOptions, useQuery } from '@tanstack/react-query';
import { answered, client } from '../data/api';
import { useDesk } from '../session/desk';

export const kitQuery = (siteId: string) =>
  queryOptions({
    queryKey: ['kit', siteId],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/kit', { params: { path: { siteId } } })),
  });

/** How the brand kit wants readers of a language to be spoken to; nothing where it says nothing of it. */
export function useTone(): (language: string) => string | undefined {
  const { site } = useDesk();
  const tones = useQuery(kitQuery(site.id)).data?.kit.tones ?? [];
  const main = (tag: string) => (tag || site.language).split('-')[0]?.toLowerCase();
  return (language) => tones.find((t) => main(t.language) === main(language))?.words;
}
