/**
 * A DOM object as the browser made it: read past whatever the page's own names, fields and pictures hide of it.
 *
 * A picture called "forms" hides `document.forms`, a field called "elements" those of its form (HTML standard, named access).
 */
export const bare = <T extends object>(target: T): T =>
  new Proxy(target, {
    get(_, name) {
      for (let at = Object.getPrototypeOf(target); at; at = Object.getPrototypeOf(at)) {
        const found = Object.getOwnPropertyDescriptor(at, name);
        if (found) {
          const value = found.get ? found.get.call(target) : found.value;
          return typeof value === 'function' ? value.bind(target) : value;
        }
      }
    },
  });

/** The page's document, read past what its elements are called. */
export const doc = bare(document);

/** What we are called with by the browser: whatever goes wrong in it, the page's console stays clean. */
export const quiet =
  <A extends unknown[]>(work: (...told: A) => void) =>
  (...told: A) => {
    try {
      work(...told);
    } catch {
      // Whatever this page is, it must not notice us.
    }
  };

/** JSON of a value, also on pages whose old libraries give lists a `toJSON` of their own. */
export function toJson(value: unknown): string {
  const list = Array.prototype as { toJSON?: unknown };
  const own = list.toJSON;
  // Deleting what is not there costs nothing, and what cannot be deleted was never ours to mend.
  delete list.toJSON;
  try {
    return JSON.stringify(value);
  } finally {
    if (own) list.toJSON = own;
  }
}

/** Listens to the window, past whatever is called like its methods. */
export function on(type: string, told: (event: never) => void) {
  EventTarget.prototype.addEventListener.call(window, type, quiet(told as (event: Event) => void), { passive: true });
}
