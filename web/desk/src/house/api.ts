import { queryOptions } from '@tanstack/react-query';
import { answered, client, type Schema } from '../data/api';

export type HouseRules = Schema<'HouseRules'>;
export type OwnWords = Schema<'OwnWordsView'>;

export const setHouseRules = (siteId: string, rules: HouseRules, seen: HouseRules) =>
  answered(client.PUT('/api/sites/{siteId}/house-rules', { params: { path: { siteId } }, body: { rules, seen } }));

export const ownWordsQuery = (siteId: string, language: string) =>
  queryOptions({
    queryKey: ['own-words', siteId, language],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/words/{language}', { params: { path: { siteId, language } } })),
  });

export const setOwnWords = (siteId: string, language: string, words: Record<string, string>) =>
  answered(client.PUT('/api/sites/{siteId}/words/{language}', { params: { path: { siteId, language } }, body: { words } }));
