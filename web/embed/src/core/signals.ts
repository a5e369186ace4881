import { quiet } from './bare';
import { hand, newId } from './network';
import type { FoundForm } from './types';

/** Collects what happened on a page view and sends it in small lots, at the latest when the page is hidden. */
export interface Signals {
  add(kind: string, callout?: string, value?: number): void;
  /** Reports at once: the page may be about to go. What is reported before the desk has answered waits for it. */
  report(what: PageReport): void;
  /** Reports with the next lot: what stands on the page may wait. */
  lay(what: PageSight): void;
  /** Sends what waited for the desk's answer. */
  answered(): void;
  flush(): void;
}

/** What stands on the page. */
export interface PageSight {
  found?: FoundForm[];
  places?: { found: string[]; inView: string[] };
}

/** What is reported beside the page view's own signals. */
export interface PageReport {
  form?: { source: string; fields: Record<string, string> };
  track?: { name: string; data?: Record<string, unknown> | undefined };
  identify?: { data: Record<string, unknown>; signature?: string | undefined };
  /** The key of a form that was sent and that no source listens to; nothing of what was in it. */
  sent?: string;
}

const LOT_WAIT_MS = 800;

/** Reports that wait for the desk's first answer at most; a page that calls for ever must not fill memory. */
const MOST_WAITING = 20;

/** Makes the collector. `envelope` gives what every lot carries, or nothing while nothing may be sent. */
export function createSignals(url: string, envelope: () => object | undefined): Signals {
  let lot: { id: string; kind: string; callout: string | undefined; value: number }[] = [];
  let sight: PageSight | undefined;
  let waiting: object[] = [];
  let timer: ReturnType<typeof setTimeout> | undefined;

  function answered() {
    const carried = envelope();
    // What the browser refuses is kept and handed to it again.
    if (carried) waiting = waiting.filter((report) => !hand(url, { ...carried, ...report }));
    return carried;
  }

  function flush() {
    clearTimeout(timer);
    timer = undefined;
    const carried = answered();
    if (!carried) return;
    if ((sight || lot.length > 0) && hand(url, { ...carried, ...sight, signals: lot })) {
      lot = [];
      sight = undefined;
    }
    if (lot.length + waiting.length > 0) later();
  }

  function later() {
    timer ??= setTimeout(quiet(flush), LOT_WAIT_MS);
  }

  return {
    add(kind, callout, value = 0) {
      lot.push({ id: newId(), kind, callout, value: Math.round(value) });
      // A page that stays open without an answer from the desk must not gather for ever.
      lot = lot.slice(-50);
      later();
    },
    report(what) {
      const { form, track } = what;
      // What stands on the page goes before what was done with it.
      const report = {
        ...sight,
        ...what,
        form: form && { id: newId(), ...form },
        track: track && [{ id: newId(), ...track }],
      };
      sight = undefined;
      waiting = [...waiting, report].slice(-MOST_WAITING);
      flush();
    },
    lay(what) {
      sight = { ...sight, ...what };
      later();
    },
    answered,
    flush,
  };
}
