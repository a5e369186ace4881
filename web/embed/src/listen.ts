import type { Kit } from './dom/kit';
import type { PageReport } from './dom/signals';
import { watchBaskets } from './listen/baskets';
import { watchForms } from './listen/forms';
import { openPending } from './listen/pendingStore';
import type { BasketRule, WatchedForm } from './model/types';

/** What the listening needs of the page view. */
export interface Heard {
  forms(): WatchedForm[];
  baskets(): BasketRule[];
  mayStore(): boolean;
  report(what: PageReport): void;
}

/** What the third file holds: it watches the page's forms and baskets, on pages that have any. */
export interface Listening {
  /** Looks at the page as it is now; call on every page view. */
  look(): void;
}

/** Begins to watch, without delaying or changing anything of the page's. */
export function open(kit: Kit, heard: Heard): Listening {
  watchBaskets(kit, heard.baskets, (data) => heard.report({ track: { name: 'basket', data } }));
  return watchForms(
    kit,
    heard.forms,
    (source, fields) => heard.report({ form: { source, fields } }),
    (found) => heard.report({ found }),
    (sent) => heard.report({ sent }),
    openPending(heard.mayStore),
  );
}
