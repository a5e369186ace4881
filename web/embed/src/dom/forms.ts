import { type Control, type FormMarks, formKey, isWatched, readFields } from '../model/formFields';
import { type Pending, pendingOf, settle } from '../model/pending';
import type { FoundForm, WatchedForm } from '../model/types';
import { isShown } from './acts';

/** Added forms and elements are looked for this long after the page last changed, so that a busy page costs little. */
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
 */
export function watchForms(
  watched: () => WatchedForm[],
  sent: (source: string, fields: Record<string, string>) => void,
  met: (forms: FoundForm[]) => void,
  store: PendingStore,
): FormWatch {
  let told = '';
  let timer: ReturnType<typeof setTimeout> | undefined;

  function taken(form: HTMLFormElement) {
    for (const source of watched().filter((w) => isWatched(marksOf(form), w)))
      if (form.checkValidity()) {
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
    const found = [...document.forms].map(describe).filter((f) => f.fields.length > 0);
    const summary = `${location.pathname} ${JSON.stringify(found)}`;
    if (found.length > 0 && summary !== told) met(found.slice(0, 20));
    told = summary;
  }

  // On the way down, before the page can stop the event from travelling; an invalid form is never sent by browsers.
  addEventListener('submit', (event) => event.target instanceof HTMLFormElement && taken(event.target), true);
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
    clearTimeout(timer);
    timer = setTimeout(look, LOOK_AFTER_MS);
  }).observe(document, { childList: true, subtree: true, attributes: true, attributeFilter: ['class', 'hidden', 'style'] });
  return { look };
}

const CONTROLS = 'input,textarea,select';
const BUTTONS = new Set(['submit', 'button', 'image', 'reset']);

type Field = HTMLInputElement | HTMLTextAreaElement | HTMLSelectElement;

function fieldsOf(form: HTMLFormElement): Field[] {
  return ([...form.elements].filter((e) => e.matches(CONTROLS)) as Field[]).filter((f) => f.name && !BUTTONS.has(f.type));
}

function marksOf(form: HTMLFormElement): FormMarks {
  const fields = [...new Set(fieldsOf(form).map((f) => f.name))];
  // A field called "id" or "name" hides the form's own properties of that name.
  return { id: form.getAttribute('id') ?? '', name: form.getAttribute('name'), fields };
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
  return { key: formKey(marksOf(form)).slice(0, 300), fields: [...seen.values()].slice(0, 60) };
}

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

function* controlsOf(form: HTMLFormElement): Generator<Control> {
  for (const field of fieldsOf(form))
    if (!(field instanceof HTMLInputElement) || !['checkbox', 'radio'].includes(field.type) || field.checked)
      yield { name: field.name, type: field.type, autocomplete: field.autocomplete, value: field.value };
}

const anyShown = (selector: string): boolean => [...document.querySelectorAll(selector)].some(isShown);

/** Writes the visitor's id into fields marked for it, so that a shop's server can say whose purchase it reports. */
export function fillVisitor(visitor: string) {
  for (const input of document.querySelectorAll<HTMLInputElement>('input[data-outcry-visitor]')) input.value = visitor;
}
