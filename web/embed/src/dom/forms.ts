import { type Control, isWatched, readFields } from '../model/formFields';
import type { WatchedForm } from '../model/types';

/**
 * Watches the page's forms being sent, without delaying or changing them.
 *
 * @param watched - Reads the forms to watch on the page as it is now.
 * @param sent - Told the source and the mapped fields of a form that was sent.
 */
export function watchForms(watched: () => WatchedForm[], sent: (source: string, fields: Record<string, string>) => void) {
  // On the way down, before the page can stop the event from travelling; an invalid form is never sent by browsers.
  addEventListener(
    'submit',
    (event) => {
      const form = event.target;
      if (!(form instanceof HTMLFormElement)) return;
      const marks = { id: form.id, name: form.getAttribute('name') };
      for (const source of watched().filter((w) => isWatched(marks, w)))
        if (form.checkValidity()) sent(source.source, readFields(controlsOf(form), source.fields));
    },
    true,
  );
}

function* controlsOf(form: HTMLFormElement): Generator<Control> {
  for (const element of form.elements)
    if (
      (element instanceof HTMLInputElement && (!['checkbox', 'radio'].includes(element.type) || element.checked)) ||
      element instanceof HTMLTextAreaElement ||
      element instanceof HTMLSelectElement
    )
      yield { name: element.name, type: element.type, autocomplete: element.autocomplete, value: element.value };
}

/** Writes the visitor's id into fields marked for it, so that a shop's server can say whose purchase it reports. */
export function fillVisitor(visitor: string) {
  for (const input of document.querySelectorAll<HTMLInputElement>('input[data-outcry-visitor]')) input.value = visitor;
}
