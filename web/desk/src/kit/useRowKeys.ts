import { useRef } from 'react';

let next = 1;

/**
 * Keys for the rows of a list whose items have none of their own.
 *
 * A row keeps its key while it is changed and when others are taken out, so that a field never takes over the text of
 * another. Told nothing, it takes what was added to stand at the end.
 *
 * @param count - How many rows there are now.
 * @returns The keys in the order of the rows, and the ways to say that one is about to be taken out or put before its neighbour.
 */
export function useRowKeys(count: number): { keys: readonly string[]; removed(place: number): void; earlier(place: number): void } {
  const keys = useRef<string[]>([]);
  while (keys.current.length < count) keys.current = [...keys.current, `row-${next++}`];
  if (keys.current.length > count) keys.current = keys.current.slice(0, count);
  return {
    keys: keys.current,
    removed: (place) => {
      keys.current = keys.current.filter((_, i) => i !== place);
    },
    earlier: (place) => {
      const moved = [...keys.current];
      const [own] = moved.splice(place, 1);
      if (own !== undefined) moved.splice(Math.max(0, place - 1), 0, own);
      keys.current = moved;
    },
  };
}
