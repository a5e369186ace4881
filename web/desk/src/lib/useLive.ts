import { type HubConnection, HubConnectionBuilder, HubConnectionState, LogLevel } from '@microsoft/signalr';
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { Colleague, People } from './people';

/** Which queries a change makes stale, by the first part of their keys. */
const STALE_AFTER: Record<string, string[]> = {
  event: ['events', 'event', 'strip', 'sources', 'evidence', 'run-sheet', 'rehearsal'],
  delivery: ['deliveries', 'sources'],
  imports: ['imports', 'sources'],
  heard: ['install', 'strip'],
  figures: ['callouts', 'strip'],
  pointed: ['points'],
  definition: [
    'sites',
    'page-groups',
    'segments',
    'pages',
    'advice',
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

/** Keeps a line open to the server; when something of the site changes, what shows it asks again. Also tells who else is there. */
export function useLive(siteId: string): People {
  const queries = useQueryClient();
  const [all, setAll] = useState<readonly Colleague[]>([]);
  const line = useRef<HubConnection>(undefined);
  const place = useRef('');
  const turnTo = useCallback((to: string) => {
    place.current = to;
    if (line.current?.state === HubConnectionState.Connected) line.current.invoke('Turn', to).catch(() => undefined);
  }, []);
  useEffect(() => {
    const opened = new HubConnectionBuilder()
      .withUrl('/live')
      .withAutomaticReconnect([0, 1000, 3000, 10_000, 30_000])
      .configureLogging(LogLevel.None)
      .build();
    line.current = opened;
    const follow = async () => {
      try {
        await opened.invoke('Follow', siteId);
        if (place.current) await opened.invoke('Turn', place.current);
      } catch {
        // Refused or broken off: the desk asks again by itself.
      }
    };
    opened.on('people', (people: Colleague[]) => setAll(people));
    opened.on('changed', (change: string) => {
      for (const key of STALE_AFTER[change] ?? []) void queries.invalidateQueries({ queryKey: [key] });
    });
    // After a break anything may have happened.
    opened.onreconnected(() => {
      void follow();
      void queries.invalidateQueries();
    });
    const started = opened.start().then(follow, () => undefined);
    return () => {
      void started.finally(() => opened.stop());
    };
  }, [siteId, queries]);
  return useMemo(() => ({ all, turnTo }), [all, turnTo]);
}
