/** What a change at the server makes stale, by the first part of a query's key, and how often it may be asked for again. */
interface Stale {
  key: string;
  /** At most once in this time; 0 is at once. What is dear to compute need not follow each purchase of a busy hour. */
  everyMs: number;
}

const now = (...keys: string[]): Stale[] => keys.map((key) => ({ key, everyMs: 0 }));

const STALE_AFTER: Record<string, readonly Stale[]> = {
  event: [
    { key: 'events', everyMs: 2_000 },
    { key: 'event', everyMs: 2_000 },
    { key: 'strip', everyMs: 2_000 },
    { key: 'sources', everyMs: 5_000 },
    { key: 'evidence', everyMs: 5_000 },
    { key: 'run-sheet', everyMs: 20_000 },
    { key: 'rehearsal', everyMs: 20_000 },
  ],
  delivery: now('deliveries', 'sources'),
  imports: now('imports', 'sources'),
  heard: now('install', 'strip'),
  gave: [
    { key: 'leads', everyMs: 2_000 },
    { key: 'lead', everyMs: 0 },
    { key: 'rewards', everyMs: 2_000 },
  ],
  figures: [...now('callouts', 'strip'), { key: 'ladder', everyMs: 20_000 }],
  pointed: now('points'),
  people: [
    { key: 'strip', everyMs: 1_000 },
    { key: 'answering', everyMs: 1_000 },
    // Whoever left for good, or answers no more, had talks that are anybody's now.
    { key: 'talk-counts', everyMs: 5_000 },
    { key: 'talks', everyMs: 5_000 },
  ],
  talk: [...now('talk', 'talk-counts'), { key: 'talks', everyMs: 500 }],
  definition: now(
    'sites',
    'page-groups',
    'segments',
    'pages',
    'advice',
    'care',
    'imports',
    'callouts',
    'callout',
    'launchers',
    'launcher',
    'scripts',
    'script',
    'followups',
    'followup',
    'reviews',
    'team',
    'ladder',
    'run-sheet',
    'strip',
    'events',
    'event',
    'install',
    'sources',
    'rehearsal',
    'evidence',
  ),
};

/**
 * Turns changes into requests to ask again, each key no more often than it bears.
 *
 * The last change of a burst is never lost: it is asked for when its time has come.
 */
export function staleness(ask: (key: string) => void): { changed(change: string): void; stop(): void } {
  const waiting = new Map<string, ReturnType<typeof setTimeout>>();
  const askedAt = new Map<string, number>();
  function go(key: string) {
    waiting.delete(key);
    askedAt.set(key, Date.now());
    ask(key);
  }
  return {
    changed(change) {
      for (const { key, everyMs } of STALE_AFTER[change] ?? []) {
        const wait = (askedAt.get(key) ?? Number.NEGATIVE_INFINITY) + everyMs - Date.now();
        if (wait > 0 && waiting.has(key)) continue;
        clearTimeout(waiting.get(key));
        if (wait > 0)
          waiting.set(
            key,
            setTimeout(() => go(key), wait),
          );
        else go(key);
      }
    },
    stop() {
      for (const timer of waiting.values()) clearTimeout(timer);
      waiting.clear();
    },
  };
}
