import { useEffect, useRef, useState } from 'react';
import { type ReplayLine, runReplay } from './api';

/** Where a replay stands. What was counted of an earlier version of the draft is kept, and told to be old. */
export type Replay =
  | { is: 'idle' }
  | { is: 'running'; line?: ReplayLine }
  | { is: 'done'; line: ReplayLine; version: number }
  | { is: 'refused'; error: unknown };

/** Runs a replay at a time, and ends it when the page is left. */
export function useReplay(siteId: string, calloutId: string) {
  const [replay, setReplay] = useState<Replay>({ is: 'idle' });
  const running = useRef<AbortController>(undefined);
  useEffect(() => () => running.current?.abort(), []);

  async function start(days: number, settle: () => Promise<number>) {
    running.current?.abort();
    const stop = new AbortController();
    running.current = stop;
    setReplay({ is: 'running' });
    try {
      // What was typed last is part of what is played.
      const version = await settle();
      await runReplay(
        siteId,
        calloutId,
        days,
        (line) => {
          if (!stop.signal.aborted) setReplay(line.done ? { is: 'done', line, version } : { is: 'running', line });
        },
        stop.signal,
      );
    } catch (error) {
      if (!stop.signal.aborted) setReplay({ is: 'refused', error });
    }
  }

  function cancel() {
    running.current?.abort();
    setReplay({ is: 'idle' });
  }

  return { replay, start, cancel };
}
