import type { WatchedForm } from '../core/types';

/** What a form is called by on its page. */
export interface FormMarks {
  id: string;
  name: string | null;
  /** Names of its fields, in order, each once. */
  fields: string[];
}

/** The name under which a form is known to the desk: its id, else its name, else what its fields are called. */
export const formKey = ({ id, name, fields }: FormMarks): string => id || name || `fields:${fields.join(',')}`;

/** Whether a form on the page is the one that a source watches: by its id, its name or its fields. */
export function isWatched(form: FormMarks, watched: WatchedForm): boolean {
  return watched.form !== '' && (form.id === watched.form || form.name === watched.form || formKey(form) === watched.form);
}

/** Types of field whose content never leaves the page, whatever is mapped. */
const PRIVATE_TYPES = new Set(['password', 'file', 'hidden']);

/** Card fields are told by the browser's own autofill tokens (HTML standard, "cc-…"). */
const CARD = /(^|\s)cc-/;

/** The part of a form control that matters here. */
export interface Control {
  name: string;
  type: string;
  autocomplete: string;
  value: string;
}

/** Takes the mapped fields' values from a form's controls; nothing else is read. */
export function readFields(controls: Iterable<Control>, wanted: readonly string[]): Record<string, string> {
  const fields: Record<string, string> = {};
  for (const control of controls)
    if (wanted.includes(control.name) && !PRIVATE_TYPES.has(control.type) && !CARD.test(control.autocomplete) && control.value)
      fields[control.name] = control.value.slice(0, 500);
  return fields;
}
