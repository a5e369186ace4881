import { useEffect } from 'react';
import { useDesk } from './desk';

/** Says in the browser's tab which page of which site is open. */
export function useTitle(page: string) {
  const { site } = useDesk();
  useEffect(() => {
    document.title = `${page} · ${site.name} · Outcry`;
  }, [page, site.name]);
}
