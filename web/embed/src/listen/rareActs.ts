import type { Kit as CoreKit } from '../core/kit';
import type { Act } from '../core/triggers';
import type { Cue } from '../core/types';

/** What is needed to watch for them. */
type Kit = Pick<CoreKit, 'closest' | 'doc' | 'query' | 'quiet'>;

type Told = (selector: string) => void;

/** Elements that are waited for may come later; this often they are looked for. */
const SEEK_EVERY_MS = 1000;

/** Watches for ends of videos and for elements that come into view. */
export function watchRareActs(kit: Kit, cues: readonly Cue[], tell: (act: Act) => void): () => void {
  const targets = (kind: string) => [...new Set(cues.flatMap((c) => c.triggers ?? []).flatMap(({ k, t = '' }) => (k === kind ? [t] : [])))];
  const [videos, views] = [targets('VideoEnd'), targets('InView')];
  const undo: (() => void)[] = [];
  if (videos.length > 0) undo.push(watchVideos(kit, videos, (t) => tell({ k: 'VideoEnd', t })));
  if (views.length > 0) undo.push(watchViews(kit, views, (t) => tell({ k: 'InView', t })));
  return () => {
    for (const end of undo) end();
  };
}

/** Tells which of the named videos ended: those of the page itself, and those of players in frames. An empty name is any video. */
function watchVideos({ closest, doc, quiet }: Kit, selectors: readonly string[], tell: Told): () => void {
  const ending = new AbortController();
  const options = { capture: true, signal: ending.signal };
  const ended = (element: EventTarget | null) => {
    for (const selector of selectors) if (!selector || closest(element, selector)) tell(selector);
  };
  doc.addEventListener(
    'ended',
    quiet((event) => ended(event.target)),
    options,
  );
  addEventListener(
    'message',
    quiet((event) => hear(doc, event, ended)),
    options,
  );
  return () => ending.abort();
}

// Players in frames report by messages: the open player.js protocol, whose host asks for an event once the player is ready.
function hear(doc: Document, event: MessageEvent, ended: (frame: Element) => void) {
  let told: { context?: unknown; event?: unknown } | undefined;
  try {
    told = typeof event.data === 'string' ? JSON.parse(event.data) : event.data;
  } catch {
    return;
  }
  const frame = told?.event ? [...doc.querySelectorAll('iframe')].find((f) => f.contentWindow === event.source) : undefined;
  if (!frame) return;
  if (told?.event === 'ended' || told?.event === 'finish') ended(frame);
  else if (told?.context === 'player.js' && told.event === 'ready')
    frame.contentWindow?.postMessage(
      JSON.stringify({ context: 'player.js', version: '0.0.11', method: 'addEventListener', value: 'ended', listener: 'outcry' }),
      '*',
    );
}

/** Tells which of the named elements came into view, those too that the page adds later. */
function watchViews({ closest, query, quiet }: Kit, selectors: readonly string[], seen: Told): () => void {
  const waiting = new Set(selectors);
  const observer = new IntersectionObserver(
    quiet((entries: IntersectionObserverEntry[]) => {
      // Of what is taller than the view, half a view is enough.
      for (const entry of entries)
        if (entry.isIntersecting && (entry.intersectionRatio >= 0.5 || entry.intersectionRect.height >= innerHeight / 2)) {
          observer.unobserve(entry.target);
          for (const selector of selectors) if (closest(entry.target, selector) === entry.target) seen(selector);
        }
    }),
    { threshold: [0, 0.25, 0.5] },
  );
  const seek = () => {
    for (const selector of waiting) {
      const element = query(selector);
      if (!element) continue;
      waiting.delete(selector);
      observer.observe(element);
    }
  };
  seek();
  const timer = waiting.size > 0 ? setInterval(quiet(seek), SEEK_EVERY_MS) : undefined;
  return () => {
    clearInterval(timer);
    observer.disconnect();
  };
}
