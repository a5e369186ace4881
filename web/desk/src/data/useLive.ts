import { type HubConnection, HubConnectionBuilder, HubConnectionState, LogLevel } from '@microsoft/signalr';
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { watchIdle } from './idle';
import { keepOpen } from './line';
import type { Colleague, People } from './people';
import { askAgain } from './queries';
import { staleness } from './stale';
import { heardTyping } from './typing';

/** Keeps a line open to the server; when something of the site changes, what shows it asks again. Also tells who else is there. */
export function useLive(siteId: string, idleMinutes: number): People {
  const queries = useQueryClient();
  const [all, setAll] = useState<readonly Colleague[]>([]);
  const line = useRef<HubConnection>(undefined);
  const place = useRef('');
  const turnTo = useCallback((to: string) => {
    place.current = to;
    if (line.current?.state === HubConnectionState.Connected) line.current.invoke('Turn', to).catch(() => undefined);
  }, []);
  useEffect(() => {
    const opened = new HubConnectionBuilder().withUrl('/live').configureLogging(LogLevel.None).build();
    line.current = opened;
    const stale = staleness((key) => askAgain(queries, key));
    const idle = watchIdle(idleMinutes * 60_000, (isIdle) => {
      if (opened.state === HubConnectionState.Connected) opened.invoke('Idle', isIdle).catch(() => undefined);
    });
    const follow = async () => {
      try {
        await opened.invoke('Follow', siteId);
        if (place.current) await opened.invoke('Turn', place.current);
        if (idle.isIdle()) await opened.invoke('Idle', true);
      } catch {
        // Refused or broken off: the line is opened again by itself.
      }
    };
    opened.on('people', (people: Colleague[]) => {
      setAll(people);
      stale.changed('people');
    });
    opened.on('changed', (change: string) => {
      if (!heardTyping(change)) stale.changed(change);
    });
    const stop = keepOpen(opened, (isFirst) => {
      void follow();
      // After a break anything may have happened.
      if (!isFirst) void queries.invalidateQueries();
    });
    return () => {
      stale.stop();
      idle.stop();
      stop();
    };
  }, [siteId, idleMinutes, queries]);
  return useMemo(() => ({ all, turnTo }), [all, turnTo]);
}
