import { HubConnectionBuilder, LogLevel } from '@microsoft/signalr';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';

/** Which queries a change makes stale, by the first part of their keys. */
const STALE_AFTER: Record<string, string[]> = {
  event: ['events', 'event', 'strip', 'sources', 'evidence', 'run-sheet', 'rehearsal'],
  delivery: ['deliveries', 'sources'],
  imports: ['imports', 'sources'],
  heard: ['install', 'strip'],
  figures: ['callouts', 'strip'],
  definition: [
    'sites',
    'care',
    'imports',
    'callouts',
    'callout',
    'run-sheet',
    'strip',
    'events',
    'event',
    'install',
    'sources',
    'rehearsal',
  ],
};

/** Keeps a line open to the server; when something of the site changes, what shows it asks again. */
export function useLive(siteId: string) {
  const queries = useQueryClient();
  useEffect(() => {
    const line = new HubConnectionBuilder()
      .withUrl('/live')
      .withAutomaticReconnect([0, 1000, 3000, 10_000, 30_000])
      .configureLogging(LogLevel.None)
      .build();
    const follow = () => line.invoke('Follow', siteId).catch(() => undefined);
    line.on('changed', (change: string) => {
      for (const key of STALE_AFTER[change] ?? []) void queries.invalidateQueries({ queryKey: [key] });
    });
    // After a break anything may have happened.
    line.onreconnected(() => {
      void follow();
      void queries.invalidateQueries();
    });
    const started = line.start().then(follow, () => undefined);
    return () => {
      void started.finally(() => line.stop());
    };
  }, [siteId, queries]);
}
