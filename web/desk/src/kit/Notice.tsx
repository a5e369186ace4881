import type { UseQueryResult } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { Refusal } from '../data/api';
import { Button } from './Button';

/** A refusal in its own words, with a way to try again. `page` names the page that it stands in the place of. */
export function Failed({ error, again, page }: { error: unknown; again?: () => void; page?: string }) {
  const refusal = error instanceof Refusal ? error : undefined;
  return (
    <>
      {page && <h1 className="sr-only">{page}</h1>}
      <div role="alert" className="m-4 grid max-w-[560px] gap-2 border-s-4 border-bad bg-sheet p-4">
        <p className="font-semibold">{refusal?.title ?? 'Something went wrong here'}</p>
        <p>{refusal?.message ?? 'This part of the desk could not be drawn. Reload the page; nothing was lost.'}</p>
        {again && (
          <p>
            <Button onClick={again}>Try again</Button>
          </p>
        )}
      </div>
    </>
  );
}

/** Says that something is on its way; after a moment, so that quick answers do not flicker. */
export function Waiting({ children, page }: { children: ReactNode; page?: string }) {
  return (
    <>
      {page && <h1 className="sr-only">{page}</h1>}
      <p role="status" className="p-4 text-soft motion-safe:animate-[appear_0s_300ms_both]">
        {children}
      </p>
    </>
  );
}

/** What was asked for, once it is there; till then that it is on its way, and where it failed why, with a way to ask again. */
export function Fetched<T>({
  query,
  waiting,
  children,
}: {
  query: Pick<UseQueryResult<T>, 'data' | 'error' | 'refetch'>;
  waiting: string;
  children(data: T): ReactNode;
}) {
  if (query.data !== undefined) return children(query.data);
  if (query.error) return <Failed error={query.error} again={() => void query.refetch()} />;
  return <Waiting>{waiting}</Waiting>;
}
