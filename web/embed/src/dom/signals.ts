import { hand, newId } from './network';

/** Collects what happened on a page view and sends it in small lots, at the latest when the page is hidden. */
export interface Signals {
  add(kind: string, callout?: string, value?: number): void;
  form(source: string, fields: Record<string, string>): void;
  flush(): void;
}

const LOT_WAIT_MS = 800;

/** Makes the collector. `envelope` gives what every lot carries, or nothing while nothing may be sent. */
export function createSignals(url: string, envelope: () => object | undefined): Signals {
  let lot: { id: string; kind: string; callout: string | undefined; value: number }[] = [];
  let timer: ReturnType<typeof setTimeout> | undefined;

  function flush() {
    clearTimeout(timer);
    timer = undefined;
    const carried = envelope();
    if (!carried || lot.length === 0) return;
    if (hand(url, { ...carried, signals: lot })) lot = [];
  }

  return {
    add(kind, callout, value = 0) {
      lot.push({ id: newId(), kind, callout, value: Math.round(value) });
      // A page that stays open without an answer from the desk must not gather for ever.
      lot = lot.slice(-50);
      timer ??= setTimeout(flush, LOT_WAIT_MS);
    },
    form(source, fields) {
      const carried = envelope();
      if (carried) hand(url, { ...carried, form: { id: newId(), source, fields } });
    },
    flush,
  };
}
