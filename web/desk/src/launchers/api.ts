import { queryOptions } from '@tanstack/react-query';
import { answered, client, type Schema } from '../data/api';

export type Launcher = Schema<'LauncherView'>;
export type LauncherBrief = Schema<'LauncherBrief'>;
export type Rung = Schema<'Rung'>;
export type Channel = Schema<'Channel'>;
export type Climbed = Schema<'ClimbView'>;
export type Visitor = Schema<'ImaginedVisitor'>;
export type Device = NonNullable<Visitor['device']>;

export const fetchLauncher = (siteId: string, id: string) =>
  answered(client.GET('/api/sites/{siteId}/launchers/{id}', { params: { path: { siteId, id } } }));

export const launcherQuery = (siteId: string, id: string) =>
  queryOptions({ queryKey: ['launcher', siteId, id], queryFn: () => fetchLauncher(siteId, id) });

export const startLauncher = (siteId: string) => answered(client.POST('/api/sites/{siteId}/launchers', { params: { path: { siteId } } }));

export const saveLauncher = (siteId: string, id: string, name: string, content: LauncherBrief, version: number) =>
  answered(client.PUT('/api/sites/{siteId}/launchers/{id}/draft', { params: { path: { siteId, id } }, body: { name, content, version } }));

export const publishLauncher = (siteId: string, id: string, version: number) =>
  answered(client.POST('/api/sites/{siteId}/launchers/{id}/publish', { params: { path: { siteId, id } }, body: { version } }));

/** A greeting for a purpose, to be put on a ladder. */
export const startGreeting = (siteId: string, purpose: Schema<'GreetingPurpose'>) =>
  answered(client.POST('/api/sites/{siteId}/launchers/greetings', { params: { path: { siteId } }, body: { purpose } }));

export const readCalendar = (siteId: string, body: Schema<'CalendarRequest'>) =>
  answered(client.POST('/api/sites/{siteId}/launchers/calendar', { params: { path: { siteId } }, body }));

/** The ladder of the draft as it was saved last, climbed by one visitor. */
export const climbQuery = (siteId: string, id: string, version: number, visitor: Visitor, path: string, at: string) =>
  queryOptions({
    queryKey: ['ladder', siteId, id, 'climb', version, visitor, path, at],
    queryFn: () =>
      answered(
        client.POST('/api/sites/{siteId}/launchers/{id}/climb', {
          params: { path: { siteId, id } },
          body: { visitor, path, at: at || null },
        }),
      ),
    placeholderData: (before) => before,
  });

/** For how many recorded visits each rung is the one, and how greetings and channels have fared. */
export const ladderFiguresQuery = (siteId: string, id: string, version: number) =>
  queryOptions({
    queryKey: ['ladder', siteId, id, 'figures', version],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/launchers/{id}/figures', { params: { path: { siteId, id } } })),
    placeholderData: (before) => before,
    staleTime: 60_000,
  });

export const launcherStageQuery = (siteId: string, id: string, visitor: Visitor, at: string) =>
  queryOptions({
    queryKey: ['launcher-stage', siteId, id, visitor, at],
    queryFn: () =>
      answered(
        client.POST('/api/sites/{siteId}/launchers/{id}/stage', { params: { path: { siteId, id } }, body: { visitor, at: at || null } }),
      ),
    // Its link is good for four hours.
    staleTime: 3 * 60 * 60_000,
    placeholderData: (before) => before,
  });

export const launcherRevisionsQuery = (siteId: string, id: string) =>
  queryOptions({
    queryKey: ['launcher-revisions', siteId, id],
    queryFn: () => answered(client.GET('/api/sites/{siteId}/launchers/{id}/revisions', { params: { path: { siteId, id } } })),
  });
