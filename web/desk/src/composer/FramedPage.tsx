import { type RefObject, useEffect, useRef, useState } from 'react';
import { type Staged, useStaged } from './useStaged';

/** A page that said nothing for so long lacks the snippet or cannot be framed; of a site that never spoke it is no surprise. */
export const ANSWERS_WITHIN_MS = 5_000;
const NEVER_HEARD_WITHIN_MS = 2_500;

/** What a framed page told, and whether a sketch told it in the page's stead. */
export interface Told {
  staged: Staged | undefined;
  isSketch: boolean;
}

/**
 * A page of the site in a frame, as wide as a device and scaled into the room there is.
 *
 * While the page says nothing for longer than a page needs, a sketch stands in for it. The page goes on loading behind
 * it, and takes its place once it answers: slow is not silent.
 */
export function FramedPage({
  of,
  page,
  sketch,
  origin,
  isHeard,
  path,
  state,
  width,
  full = false,
  first,
  className = '',
  onTold,
}: {
  /** What is looked at, in a word: "draft". */
  of: string;
  /** The page's address; undefined while it is not known. */
  page: string | undefined;
  sketch: string | undefined;
  /** The page's origin. */
  origin: string | undefined;
  /** Whether the site ever spoke. */
  isHeard: boolean;
  path: string;
  /** When it changes, the page is told and asks for its plan again. */
  state: string;
  width: number;
  /** Shown in its own size, and not made to fit. */
  full?: boolean;
  /** The room there is until it was measured, in CSS pixels. */
  first: { width: number; height: number };
  className?: string;
  onTold(told: Told): void;
}) {
  const [silentAt, setSilentAt] = useState<string>();
  const [pageFrame, sketchFrame] = [useRef<HTMLIFrameElement>(null), useRef<HTMLIFrameElement>(null)];
  const { box, room } = useRoom(first);
  const answered = useStaged(pageFrame, page, origin, state);
  // Of a site that has spoken another page may well answer.
  const isSilent = silentAt !== undefined && (!isHeard || silentAt === path);
  const isSketch = isSilent && !answered;
  const waits = !!page && !isSilent && !answered;
  const sketched = useStaged(sketchFrame, isSketch ? sketch : undefined, location.origin, state);
  useSilence(waits, path, isHeard, setSilentAt);
  const staged = answered ?? sketched;
  const tell = useRef(onTold);
  tell.current = onTold;
  useEffect(() => tell.current({ staged, isSketch }), [staged, isSketch]);
  const scale = full ? 1 : Math.min(1, room.width / width);
  const frame = (ref: RefObject<HTMLIFrameElement | null>, source: string, title: string, isShown: boolean) => (
    <iframe
      ref={ref}
      title={title}
      // The page may run and keep its own things, and must not be able to take the desk's place.
      sandbox="allow-scripts allow-same-origin allow-forms allow-popups allow-popups-to-escape-sandbox allow-modals"
      // A new page needs a new frame: a mere change behind the "#" would not load it.
      key={source}
      src={source}
      // What the browser has to say of a page that cannot be framed is no answer to anybody.
      className={`absolute start-1/2 top-0 origin-top-left border-0 bg-sheet ${isShown ? '' : 'invisible'}`}
      style={{
        width,
        height: full ? Math.max(room.height, 640) : room.height / scale,
        transform: `scale(${scale})`,
        insetInlineStart: Math.max(0, (room.width - width * scale) / 2),
      }}
    />
  );
  return (
    <div ref={box} className={`relative flex-1 rounded border border-ink bg-sheet ${className}`}>
      {waits && <p className="grid h-full place-items-center text-soft">Opening {path}</p>}
      {page && frame(pageFrame, page, `This ${of} on ${path}`, !!answered)}
      {isSketch && sketch && frame(sketchFrame, sketch, `This ${of} on a sketch of ${path}`, true)}
    </div>
  );
}

/** The room that the box of a stage has, in CSS pixels. */
function useRoom(first: { width: number; height: number }) {
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
function useSilence(waits: boolean, path: string, isHeard: boolean, onSilent: (path: string) => void) {
  const told = useRef(onSilent);
  told.current = onSilent;
  useEffect(() => {
    if (!waits) return;
    const timer = setTimeout(() => told.current(path), isHeard ? ANSWERS_WITHIN_MS : NEVER_HEARD_WITHIN_MS);
    return () => clearTimeout(timer);
  }, [waits, path, isHeard]);
}
