import { useEffect, useRef, useState } from 'react';

/** A page that said nothing for so long lacks the snippet or cannot be framed; of a site that never spoke it is no surprise. */
const ANSWERS_WITHIN_MS = 5_000;
const NEVER_HEARD_WITHIN_MS = 2_500;

/** The room that the box of a stage has, in CSS pixels. */
export function useRoom(first: { width: number; height: number }) {
  const box = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState(first);
  useEffect(() => {
    if (!box.current) return;
    const observer = new ResizeObserver(([entry]) => entry && setRoom(entry.contentRect));
    observer.observe(box.current);
    return () => observer.disconnect();
  }, []);
  return { box, room };
}

/** Says it when a page that is waited for has stayed silent for too long. */
export function useSilence(waits: boolean, isHeard: boolean, onSilent: (isSilent: true) => void) {
  const told = useRef(onSilent);
  told.current = onSilent;
  useEffect(() => {
    if (!waits) return;
    const timer = setTimeout(() => told.current(true), isHeard ? ANSWERS_WITHIN_MS : NEVER_HEARD_WITHIN_MS);
    return () => clearTimeout(timer);
  }, [waits, isHeard]);
}
