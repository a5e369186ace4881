import type { Kit } from './core/kit';
import type { MemoryBox } from './core/memory';
import type { PageReport, PageSight } from './core/signals';
import type { BasketRule, WatchedForm } from './core/types';
import { watchBaskets } from './listen/baskets';
import { watchForms } from './listen/forms';
import { openPending } from './listen/pendingStore';

/** Elements that the desk asks about are looked for this long after arrival. */
const LOOK_AFTER_MS = 2000;

/** What the listening needs of the page view. */
export interface Heard {
  visitor(): string;
  forms(): WatchedForm[];
  baskets(): BasketRule[];
  /** Selectors of elements about which the desk wants to know whether they are on this page. */
  places(): string[];
  memory: MemoryBox;
  report(what: PageReport): void;
  lay(what: PageSight): void;
}

/** What the third file holds: it watches the page's forms and baskets, on pages that have any. */
export interface Listening {
  /** Looks at the page as it is now; call on every page view. */
  look(): void;
}

/** Begins to watch, without delaying or changing anything of the page's. */
export function open(kit: Kit, heard: Heard): Listening {
  watchBaskets(kit, heard.baskets, (data) => heard.report({ track: { name: 'basket', data } }));
  const forms = watchForms(
    kit,
    heard.forms,
    (source, fields) => heard.report({ form: { source, fields } }),
    (found) => heard.lay({ found }),
    (sent) => heard.report({ sent }),
    openPending(heard.memory),
  );
  let looked = '';
  return {
    look() {
      forms.look();
      fillVisitor(kit, heard.visitor());
      if (looked !== location.href) lookForPlaces(kit, heard);
      looked = location.href;
    },
  };
}

// Pages go on being built for a while; this look is the one that counts for what is not there.
function lookForPlaces({ query, quiet }: Kit, heard: Heard) {
  const asked = heard.places();
  if (asked.length === 0) return;
  const inView = asked.filter((s) => (query(s)?.getBoundingClientRect().top ?? Number.POSITIVE_INFINITY) < innerHeight);
  setTimeout(
    quiet(() => heard.lay({ places: { found: asked.filter(query), inView } })),
    LOOK_AFTER_MS,
  );
}

/** Writes the visitor's id into fields marked for it, so that a shop's server can say whose purchase it reports. */
function fillVisitor({ doc }: Kit, visitor: string) {
  for (const input of doc.querySelectorAll<HTMLInputElement>('input[data-outcry-visitor]')) input.value = visitor;
}
