import { MutationCache, QueryCache, QueryClient } from '@tanstack/react-query';
import { Refusal } from './api';
import { say } from './toasts';

/** Drawn by then: whoever shows a failure in its place has shown it. */
const DRAWN_AFTER_MS = 100;

const isAway = (error: unknown) => error instanceof Refusal && (error.status === 0 || error.status === 503);

// A failure that nothing on the page tells of is told in passing: no act may fail in silence. Signed out leads to the door.
function tellUnlessShown(error: unknown) {
  if (error instanceof Refusal && error.status === 401) return;
  const words = error instanceof Error && error.message ? error.message : 'That did not work. Try again.';
  setTimeout(() => {
    if (!document.body.textContent?.includes(words)) say(words, { isBad: true });
  }, DRAWN_AFTER_MS);
}

/** The desk's memory of what the server said. */
export function makeQueries(): QueryClient {
  const queries: QueryClient = new QueryClient({
    queryCache: new QueryCache({
      onError: (error, query) => {
        if (error instanceof Refusal && error.status === 401 && query.queryKey[0] !== 'session')
          void queries.invalidateQueries({ queryKey: ['session'] });
        // A desk that is away is told by the strip, once for all that asks.
        if (!isAway(error)) tellUnlessShown(error);
      },
    }),
    mutationCache: new MutationCache({
      onError: (error) => {
        if (error instanceof Refusal && error.status === 401) void queries.invalidateQueries({ queryKey: ['session'] });
        tellUnlessShown(error);
      },
    }),
    defaultOptions: {
      queries: {
        staleTime: 5_000,
        // A refusal stays one; only a server that is away is worth asking again.
        retry: (count, error) => count < 2 && error instanceof Refusal && (error.status === 0 || error.status >= 500),
      },
    },
  });
  return queries;
}

/** How a query takes in what is new without asking for all of itself again; carried as its `meta`. */
export interface Renewal {
  renew(queries: QueryClient, queryKey: readonly unknown[]): Promise<void>;
}

const renewalOf = (meta: Record<string, unknown> | undefined) => (meta as Partial<Renewal> | undefined)?.renew;

/** Asks again for what begins with a key; what knows how to take in only what is new does that. */
export function askAgain(queries: QueryClient, key: string): void {
  for (const query of queries.getQueryCache().findAll({ queryKey: [key] })) {
    const renew = query.isActive() ? renewalOf(query.meta) : undefined;
    if (renew) void renew(queries, query.queryKey).catch(() => queries.invalidateQueries({ queryKey: query.queryKey, exact: true }));
    else void queries.invalidateQueries({ queryKey: query.queryKey, exact: true });
  }
}
