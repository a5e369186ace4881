import type { Message } from '../core/launcher';
import { newId } from '../core/network';
import type { Channel, Field, LauncherWords } from '../core/types';
import type { Kit } from '../draw/kit';

/** How a message went: taken, or which field is wrong; undefined when nobody answered. */
export type Sent = { taken: true } | { field: string } | undefined;

/** What a form needs to know of the panel around it. */
export interface FormAround {
  words: LauncherWords;
  /** What the message begins with, as a ready reply has it. */
  begins: string;
  send(message: Pick<Message, 'id' | 'channel' | 'fields'>): Promise<Sent>;
  /** Shows that it was sent. */
  sent(): void;
}

const INPUTS: Record<Field, { type: string; complete: string }> = {
  Name: { type: 'text', complete: 'name' },
  Email: { type: 'email', complete: 'email' },
  Phone: { type: 'tel', complete: 'tel' },
  Message: { type: '', complete: 'off' },
};

const keyOf = (field: Field) => field.toLowerCase() as Lowercase<Field>;

/** The form of a channel that is written in the panel. Nothing typed is lost while it has not been taken. */
export function makeForm({ make, quiet }: Kit, channel: Channel, around: FormAround): HTMLFormElement {
  const { words } = around;
  // Sent once more, as after a failure, it is the same message.
  const id = newId();
  const form = make('form', 'form');
  form.noValidate = true;
  const inputs = new Map<Field, HTMLInputElement | HTMLTextAreaElement>();
  for (const { field, needed } of channel.fields ?? []) {
    const input = field === 'Message' ? make('textarea', '') : make('input', '');
    if (input instanceof HTMLInputElement) input.type = INPUTS[field].type;
    else {
      input.rows = 3;
      input.value = around.begins;
    }
    input.required = !!needed;
    input.autocomplete = INPUTS[field].complete as AutoFill;
    input.maxLength = field === 'Message' ? 4000 : 200;
    inputs.set(field, input);
    const label = make('label', '', make('span', '', words.fields[field]), input, make('span', 'wrong'));
    form.append(label);
  }
  const failed = make('p', 'wrong');
  failed.setAttribute('role', 'alert');
  const send = make('button', 'send', words.send);
  send.type = 'submit';
  form.append(failed, send);

  function say(field: Field, wrong: string) {
    const input = inputs.get(field);
    if (!input) return;
    input.setAttribute('aria-invalid', String(!!wrong));
    const said = input.nextElementSibling;
    if (said) said.textContent = wrong;
    if (wrong) input.focus();
  }

  const wrongIn = (field: Field) => (field === 'Email' ? words.checkEmail : field === 'Phone' ? words.checkPhone : words.fillIn);

  form.addEventListener(
    'submit',
    quiet((event: Event) => {
      event.preventDefault();
      failed.textContent = '';
      let first: Field | undefined;
      for (const [field, input] of [...inputs].reverse()) {
        const isEmpty = !input.value.trim();
        const isWrong = isEmpty ? input.required : field === 'Email' && !/^\S+@\S+\.\S+$/.test(input.value.trim());
        say(field, isWrong ? (isEmpty ? words.fillIn : wrongIn(field)) : '');
        if (isWrong) first = field;
      }
      if (first || send.disabled) return;
      send.disabled = true;
      const fields: Message['fields'] = {};
      for (const [field, input] of inputs) if (input.value.trim()) fields[keyOf(field)] = input.value.trim();
      void around.send({ id, channel: channel.id, fields }).then(
        quiet((sent) => {
          send.disabled = false;
          if (sent && 'taken' in sent) return around.sent();
          const field = sent && [...inputs.keys()].find((f) => `fields.${keyOf(f)}` === sent.field);
          if (field) say(field, wrongIn(field));
          else failed.textContent = words.notSent;
        }),
      );
    }) as EventListener,
  );
  return form;
}
