import { type RefObject, useEffect, useRef, useState } from 'react';

/** What the page on the stage told of the draft on it. */
export interface Staged {
  /** Why there is nothing to show. */
  note?: string;
  /** What would keep it from a visitor now, and was set aside. */
  lifted: readonly string[];
  /** What the page lacks. */
  missing: readonly string[];
}

/** A frame that was given another width knows of it once it was laid out. */
const LAID_OUT_MS = 100;

/**
 * Listens to the page in a frame, and lets it ask anew whenever `state` changes: the draft's version, the frame's width.
 *
 * Nothing is known until the page at `source` has answered for the first time.
 */
export function useStaged(
  frame: RefObject<HTMLIFrameElement | null>,
  source: string | undefined,
  origin: string | undefined,
  state: string,
): Staged | undefined {
  const [answer, setAnswer] = useState<{ source: string; staged: Staged }>();
  // What the page has been asked to show; the first it fetches by itself.
  const told = useRef(state);
  const staged = answer && answer.source === source ? answer.staged : undefined;
  const answered = staged !== undefined;

  useEffect(() => {
    const listen = ({ origin: from, source: window, data }: MessageEvent) => {
      if (!source || from !== origin || window !== frame.current?.contentWindow || data?.outcry !== 'staged') return;
      setAnswer({ source, staged: { note: data.note, lifted: data.lifted ?? [], missing: data.missing ?? [] } });
    };
    window.addEventListener('message', listen);
    return () => window.removeEventListener('message', listen);
  }, [frame, source, origin]);

  useEffect(() => {
    if (!origin || !answered || state === told.current) return;
    const timer = setTimeout(() => {
      told.current = state;
      frame.current?.contentWindow?.postMessage({ outcry: 'stage' }, origin);
    }, LAID_OUT_MS);
    return () => clearTimeout(timer);
  }, [frame, origin, state, answered]);

  return staged;
}
