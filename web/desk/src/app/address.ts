/** The part of an address that says which site one looks at, and the page within it. */
export interface DeskAddress {
  siteKey: string | undefined;
  /** The page within the site, "/" first. */
  page: string;
}

/** Reads a path such as "/s/8d6af71c/callouts" or, as in older links, "/callouts". */
export function readAddress(path: string): DeskAddress {
  const [, siteKey, page] = path.match(/^\/s\/([^/]+)(\/.*)?$/) ?? [];
  return siteKey ? { siteKey: decodeKey(siteKey), page: page ?? '/' } : { siteKey: undefined, page: path || '/' };
}

// What is not well written names no site; it must not stop the desk.
function decodeKey(typed: string) {
  try {
    return decodeURIComponent(typed);
  } catch {
    return typed;
  }
}

/** Where a site's pages begin. */
export const baseOf = (siteKey: string) => `/s/${encodeURIComponent(siteKey)}`;

/** The address of a page of a site. */
export const addressOf = (siteKey: string, page = '/') => `${baseOf(siteKey)}${page === '/' ? '/' : page}`;

/** The section that a page belongs to: what is one site's alone is left behind when one goes to another. */
export const sectionOf = (page: string) => `/${page.split('/')[1] ?? ''}`;
