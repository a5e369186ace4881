import { useEffect, useState } from 'react';

/** The present in Unix milliseconds, renewed every `everyMs`. */
export function useNow(everyMs = 1000): number {
  const [now, setNow] = useState(Date.now);
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), everyMs);
    return () => clearInterval(timer);
  }, [everyMs]);
  return now;
}
