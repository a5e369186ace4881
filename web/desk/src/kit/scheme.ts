/** A typed host as an address; on one's own machine without encryption, as nothing is there. */
export const withScheme = (typed: string) =>
  typed === '' || /^[a-z][a-z0-9+.-]*:\/\//i.test(typed)
    ? typed
    : `${/^(localhost|127\.0\.0\.1)(:|\/|$)/.test(typed) ? 'http' : 'https'}://${typed}`;
