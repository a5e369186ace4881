import type { Kit } from '../core/kit';
import type { FoundForm, WatchedForm } from '../core/types';
import { type Control, type FormMarks, formKey, isWatched, readFields } from './formFields';
import { type Pending, pendingOf, settle } from './pending';

/** Added forms and elements are looked for this long after a change of the page, however many follow it. */
const LOOK_AFTER_MS = 400;

/** Where forms wait for their sign of success between pages; the page's own tab, never longer than ten minutes. */
export interface PendingStore {
  read(): Pending[];
  write(pending: Pending[]): void;
}

/** Watches the page's forms: being sent, going through, and standing there at all. */
export interface FormWatch {
  /** Looks at the page as it is now: what has gone through, which forms stand here. Call on every page view. */
  look(): void;
}

/**
 * Begins to watch, without delaying or changing anything of the page's.
 *
 * @param watched - Reads the forms to watch on the page as it is now.
 * @param sent - Told the source and the mapped fields of a form that counts.
 * @param met - Told of forms that stand on the page and were not told before; names of fields, never values.
 * @param passed - Told the key of a form that is sent while nobody listens to it.
 */
export function watchForms(
  kit: Kit,
  watched: () => WatchedForm[],
  sent: (source: string, fields: Record<string, string>) => void,
  met: (forms: FoundForm[]) => void,
  passed: (form: string) => void,
  store: PendingStore,
): FormWatch {
  const { bare, doc, quiet, toJson, isShown } = kit;
  let told = '';
  let timer: ReturnType<typeof setTimeout> | undefined;

  function taken(form: HTMLFormElement) {
    const takers = watched().filter((w) => isWatched(marksOf(form), w));
    if (!takers.length && fieldsOf(form).length) passed(keyOf(form));
    for (const source of takers) {
      const fields = readFields(controlsOf(form), source.fields);
      const waits = pendingOf(source, fields, Date.now());
      if (waits) store.write([...store.read().filter((p) => p.source !== waits.source), waits]);
      else sent(source.source, fields);
    }
  }

  function look() {
    const before = store.read();
    if (before.length > 0) {
      const { proved, waiting } = settle(before, location.pathname, Date.now(), anyShown);
      if (proved.length > 0 || waiting.length < before.length) store.write(waiting);
      for (const one of proved) sent(one.source, one.fields);
    }
    const found = [...doc.forms].map(describe).filter((f) => f.fields.length > 0);
    const summary = `${location.pathname} ${toJson(found)}`;
    if (found.length > 0 && summary !== told) met(found.slice(0, 20));
    told = summary;
  }

  // On the way down, before the page can stop the event from travelling. What the browser finds invalid raises no such
  // event, and what a form without that check sends is sent as well; asking again would raise the page's own events.
  doc.addEventListener(
    'submit',
    quiet((event) => event.target instanceof HTMLFormElement && taken(event.target)),
    true,
  );
  // A form that a script sends raises no event; this looks on and then does just what was asked for.
  const send = HTMLFormElement.prototype.submit;
  HTMLFormElement.prototype.submit = function () {
    try {
      taken(this);
    } catch {
      // The form is sent all the same.
    }
    send.call(this);
  };
  new MutationObserver(() => {
    timer ??= setTimeout(
      quiet(() => {
        timer = undefined;
        look();
      }),
      LOOK_AFTER_MS,
    );
  }).observe(document, { childList: true, subtree: true, attributes: true, attributeFilter: ['class', 'hidden', 'style'] });
  return { look: quiet(look) };

  function fieldsOf(form: HTMLFormElement): Field[] {
    return ([...bare(form).elements].filter((e) => e.matches(CONTROLS)) as Field[]).filter((f) => f.name && !BUTTONS.has(f.type));
  }

  function marksOf(form: HTMLFormElement): FormMarks {
    const fields = [...new Set(fieldsOf(form).map((f) => f.name))];
    const own = bare(form);
    return { id: own.getAttribute('id') ?? '', name: own.getAttribute('name'), fields };
  }

  function keyOf(form: HTMLFormElement): string {
    return formKey(marksOf(form)).slice(0, LONGEST_KEY);
  }

  function describe(form: HTMLFormElement): FoundForm {
    const seen = new Map<string, FoundForm['fields'][number]>();
    for (const field of fieldsOf(form))
      if (!seen.has(field.name))
        seen.set(field.name, {
          name: field.name.slice(0, 120),
          type: field.type,
          label: labelOf(field).slice(0, 120),
          autocomplete: field.autocomplete || undefined,
        });
    return { key: keyOf(form), fields: [...seen.values()].slice(0, 60) };
  }

  function* controlsOf(form: HTMLFormElement): Generator<Control> {
    for (const field of fieldsOf(form))
      if (!(field instanceof HTMLInputElement) || !['checkbox', 'radio'].includes(field.type) || field.checked)
        yield { name: field.name, type: field.type, autocomplete: field.autocomplete, value: field.value };
  }

  function anyShown(selector: string): boolean {
    return [...doc.querySelectorAll(selector)].some(isShown);
  }
}

/** As the desk keeps it. */
const LONGEST_KEY = 250;

const CONTROLS = 'input,textarea,select';
const BUTTONS = new Set(['submit', 'button', 'image', 'reset']);

type Field = HTMLInputElement | HTMLTextAreaElement | HTMLSelectElement;

function labelOf(field: Field): string {
  const label = field.labels?.[0];
  // The label's own words, without what is chosen in a list inside it.
  const text = label
    ? [...label.childNodes]
        .filter((n) => !(n instanceof Element && n.matches(CONTROLS)))
        .map((n) => n.textContent)
        .join(' ')
    : '';
  return (text || field.getAttribute('aria-label') || field.getAttribute('placeholder') || '').replace(/\s+/g, ' ').trim();
}
