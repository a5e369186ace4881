import type { Asking, ShapeEvents } from '../core/drawing';
import { newId } from '../core/network';
import type { Ask, AskField, AskOffer, Cue, FaceBlock, PlanResponse } from '../core/types';
import type { Kit } from '../draw/kit';
import styles from './ask.css?inline';
import { codeOf, countryChoices, dialled, startCountry } from './countries';

/** What the desk answers. Field by field it is the server's `YesAnswer`. */
interface Answer {
  faults?: Record<string, string>;
  wrote?: string;
  code?: string;
  file?: string;
  meant?: { key: string; address: string; says: string };
}

const TYPES: Partial<Record<AskField['kind'], [type: string, autocomplete: string]>> = {
  Email: ['email', 'email'],
  Phone: ['tel', 'tel'],
  FirstName: ['text', 'given-name'],
  Surname: ['text', 'family-name'],
  Number: ['text', 'off'],
  Date: ['date', 'off'],
};

/** What stands in the face after a yes where nobody said one. */
const SAMPLES: Record<string, string> = { wrote: 'v•••@•••.example', code: '••••-••••', file: '#' };

/** Draws a prompt's fields into its box, and its thanks after a yes. What is typed is kept until it is taken. */
export function openAsking(kit: Kit, plan: PlanResponse): Asking {
  // This file comes from the desk, so its own address says where that is.
  const desk = new URL(import.meta.url).origin;
  const { site, stage, region, country } = plan.ask as AskOffer;
  // On a stage the desk may want the face after a yes, and says with what in it.
  const face = stage ? /outcry-face=(\w+)/.exec(location.hash)?.[1] : undefined;
  const { make, button, quiet, toJson } = kit;
  /** What was typed into a prompt that was shut before it was sent: there when it comes again on this page view. */
  const typed = new Map<string, Record<string, string>>();

  return (box: HTMLElement, cue: Cue, on: ShapeEvents) => {
    const ask = cue.ask as Ask;
    const root = box.getRootNode() as ShadowRoot;
    if (!root.adoptedStyleSheets.some((s) => s === sheet())) root.adoptedStyleSheets = [...root.adoptedStyleSheets, sheet()];
    const id = newId();
    const form = make('form', 'asks');
    form.noValidate = true;
    const kept = typed.get(cue.id) ?? {};
    typed.set(cue.id, kept);
    const fields = ask.fields.map((field) => fieldOf(field, ask, kept, cue.lang));
    const agree = promiseOf();
    const says = make('p', 'fault');
    says.setAttribute('role', 'alert');
    const send = make('button', 'send', ask.button);
    send.type = 'submit';
    const said = box.querySelector<HTMLElement>('.sheet') ?? box;
    const blocks: Record<FaceBlock, HTMLElement[]> = {
      Picture: [],
      Message: [],
      Fields: fields.map((f) => f.row),
      Promise: agree ? [agree.row] : [],
      Button: [send, says],
      SmallPrint: ask.small ? [make('p', 'small', ask.small)] : [],
    };
    if (ask.blocks) takeApart(said, ask.blocks, blocks);
    form.append(...(ask.blocks ?? (Object.keys(blocks) as FaceBlock[])).flatMap((b) => blocks[b]));
    said.querySelector('.foot')?.before(form);
    // A dialog has the focus as it comes, and gives it to what it is there for.
    if (box instanceof HTMLDialogElement) fields[0]?.inputs[0]?.focus();
    if (face) thank({ [face]: SAMPLES[face] });
    let sending = false;
    /** The address that was asked after: sent once more, it is meant. */
    let askedAfter = '';

    function promiseOf() {
      if (!ask.promise) return undefined;
      if (!ask.ticks) return { row: make('p', 'promise', ask.promise), tick: undefined, fault: undefined };
      const tick = make('input', '');
      tick.type = 'checkbox';
      const fault = make('span', 'fault');
      fault.id = `${id}-promise`;
      tick.setAttribute('aria-describedby', fault.id);
      const row = make('div', 'field', make('label', 'promise', tick, make('span', '', ask.promise)), fault);
      return { row, tick, fault };
    }

    async function submit() {
      if (sending) return;
      const faults: Record<string, string> = {};
      const values: Record<string, string> = {};
      for (const field of fields) {
        const value = field.value();
        if (value) values[field.key] = value;
        else if (field.needed) faults[field.key] = field.unsaid;
      }
      if (agree?.tick && !agree.tick.checked) faults.promise = ask.words.tick;
      if (!show(faults)) return;
      sending = true;
      send.disabled = true;
      says.textContent = '';
      try {
        const answer = await post(
          '',
          {
            id,
            callout: cue.id,
            fields: values,
            agreed: !!agree?.tick?.checked,
            sure: !!askedAfter && Object.values(values).includes(askedAfter),
            language: cue.lang,
            gpc: navigator.globalPrivacyControl === true,
            // For the hours at which somebody may be written to.
            zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
          },
          ask.takes,
        );
        if (!answer) {
          says.textContent = ask.words.notSent;
          // Typed is typed: it goes by itself once there is a network again.
          addEventListener(
            'online',
            quiet(() => void submit()),
            { once: true },
          );
        } else if (answer.faults) show(answer.faults);
        else if (answer.meant) askAfter(answer.meant);
        else {
          typed.delete(cue.id);
          on.gave();
          thank(answer);
        }
      } finally {
        sending = false;
        send.disabled = false;
      }
    }

    /** Asks beside its field whether another address was meant: one press puts it there. */
    function askAfter({ key, address, says }: NonNullable<Answer['meant']>) {
      const field = fields.find((f) => f.key === key);
      const input = field?.inputs[0];
      if (!field || !(input instanceof HTMLInputElement)) return;
      askedAfter = field.value();
      const meant = button('link', address, address);
      meant.removeAttribute('aria-label');
      meant.addEventListener('click', () => {
        input.value = address;
        input.dispatchEvent(new Event('input'));
        field.fault.replaceChildren();
        input.focus();
      });
      field.fault.replaceChildren(`${says} `, meant);
      meant.focus();
    }

    /** Puts what is wrong beside its field; the first of them has the focus. Whether nothing is. */
    function show(faults: Record<string, string>): boolean {
      let first: HTMLElement | undefined;
      for (const field of fields) {
        field.fault.textContent = faults[field.key] ?? '';
        for (const input of field.inputs) input.setAttribute('aria-invalid', String(!!faults[field.key]));
        if (faults[field.key]) first ??= field.inputs[0];
      }
      if (agree?.fault) {
        agree.fault.textContent = faults.promise ?? '';
        if (faults.promise) first ??= agree.tick;
      }
      first?.focus();
      return !first;
    }

    function thank({ wrote, code, file }: Answer) {
      const thanks = make('div', 'thanks', make('p', 'says', ask.thanks));
      if (ask.second) kit.dress(box, { ...cue, ...ask.second });
      if (ask.second?.picture) {
        const image = make('img', 'after');
        image.alt = '';
        image.src = ask.second.picture;
        thanks.prepend(image);
      }
      thanks.tabIndex = -1;
      if (ask.detail) thanks.append(make('p', 'detail', ask.detail));
      if (wrote) {
        const again = button('link', ask.words.again);
        again.addEventListener('click', () => {
          again.disabled = true;
          void post('/again', { id });
        });
        thanks.append(make('p', 'detail', ask.words.wrote.replace('{0}', wrote)), again);
      }
      if (code) thanks.append(make('p', 'code', make('code', '', code)));
      if (file) {
        const fetches = kit.link(desk + file, true, 'send');
        fetches.append(ask.words.file);
        thanks.append(fetches);
      }
      for (const part of [...said.children]) if (!part.matches('.close')) part.remove();
      said.prepend(thanks);
      if (!face) thanks.focus();
    }

    form.addEventListener(
      'submit',
      quiet((event: Event) => {
        event.preventDefault();
        void submit();
      }) as EventListener,
    );
  };

  /** The list of countries before a number; what is typed with a country's code needs none. */
  function countriesOf(
    input: HTMLInputElement | HTMLTextAreaElement,
    says: string,
    language: string,
    kept: Record<string, string>,
    key: string,
  ): HTMLSelectElement {
    const list = make('select', 'country');
    list.setAttribute('aria-label', says);
    list.autocomplete = 'tel-country-code';
    const chosen = kept[key] ?? startCountry(region, country);
    list.append(
      ...countryChoices(language).map(([value, words]) => {
        const option = make('option', '', words);
        option.value = value;
        option.selected = value === chosen;
        return option;
      }),
    );
    const begin = () => {
      input.placeholder = codeOf(list.value);
    };
    list.addEventListener('change', () => {
      kept[key] = list.value;
      begin();
    });
    begin();
    return list;
  }

  function fieldOf(field: AskField, ask: Ask, kept: Record<string, string>, language: string) {
    const key = `f-${field.key}-${newId().slice(-6)}`;
    const fault = make('span', 'fault');
    fault.id = `${key}-fault`;
    const name = field.needed ? field.label : `${field.label} (${ask.words.optional})`;
    const keep = (value: string) => {
      kept[field.key] = value;
    };
    const unsaid = field.kind === 'Consent' ? ask.words.tick : ask.words.fillIn;
    if (field.kind === 'Consent') {
      const input = make('input', '');
      input.type = 'checkbox';
      input.checked = !!kept[field.key];
      input.required = !!field.needed;
      input.setAttribute('aria-describedby', fault.id);
      const value = () => (input.checked ? 'yes' : '');
      input.addEventListener('change', () => keep(value()));
      const row = make('div', 'field', make('label', 'choice', input, make('span', '', name)), fault) as HTMLElement;
      return { key: field.key, needed: !!field.needed, unsaid, row, inputs: [input] as HTMLElement[], fault, value };
    }
    if (field.choices) {
      const type = field.kind === 'Choices' ? 'checkbox' : 'radio';
      const inputs = field.choices.map((choice) => {
        const input = make('input', '');
        Object.assign(input, { type, name: key, value: choice, checked: kept[field.key]?.split('\n').includes(choice) });
        input.addEventListener('change', () => keep(value()));
        return input;
      });
      const value = () =>
        inputs
          .filter((i) => i.checked)
          .map((i) => i.value)
          .join('\n');
      const row = make('fieldset', 'field', make('legend', '', name));
      row.append(...inputs.map((i) => make('label', 'choice', i, make('span', '', i.value))), fault);
      return { key: field.key, needed: !!field.needed, unsaid, row, inputs, fault, value };
    }
    const input = field.kind === 'Text' ? make('textarea', '') : make('input', '');
    const [type, autocomplete] = TYPES[field.kind] ?? ['text', 'off'];
    if (input instanceof HTMLInputElement) input.type = type;
    input.autocomplete = autocomplete as AutoFill;
    if (field.kind === 'Number') input.inputMode = 'decimal';
    input.id = key;
    input.maxLength = field.kind === 'Text' ? 1_000 : 200;
    input.dir = 'auto';
    input.value = kept[field.key] ?? '';
    input.required = !!field.needed;
    input.setAttribute('aria-describedby', fault.id);
    input.addEventListener('input', () => keep(input.value));
    const label = make('label', '', name);
    label.htmlFor = key;
    const list = field.kind === 'Phone' ? countriesOf(input, ask.words.country, language, kept, `${field.key}:country`) : undefined;
    return {
      key: field.key,
      needed: !!field.needed,
      unsaid,
      row: make('div', 'field', label, ...(list ? [make('div', 'dial', list, input)] : [input]), fault) as HTMLElement,
      inputs: [input] as HTMLElement[],
      fault,
      value: () => (list ? dialled(input.value.trim(), list.value) : input.value.trim()),
    };
  }

  async function post(path: string, body: object, takes: readonly string[] = []): Promise<Answer | undefined> {
    if (stage) return {};
    try {
      const answer = await fetch(`${desk}/v/asks${path}`, {
        method: 'POST',
        body: toJson({ site, page: addressFor(takes), passport: plan.passport, ...body }),
        headers: { 'content-type': 'text/plain' },
        credentials: 'omit',
        referrerPolicy: 'no-referrer',
      });
      if (answer.status === 204) return {};
      return answer.ok ? ((await answer.json()) as Answer) : undefined;
    } catch {
      return undefined;
    }
  }
}

/** Makes blocks of their own of the picture and the message. A picture right above the message stays beside it. */
function takeApart(said: HTMLElement, order: readonly FaceBlock[], blocks: Record<FaceBlock, HTMLElement[]>) {
  const body = said.querySelector<HTMLElement>('.body');
  if (!body) return;
  const picture = body.querySelector<HTMLElement>('.picture');
  blocks.Message = [body];
  if (picture && order.indexOf('Message') - order.indexOf('Picture') !== 1) {
    picture.classList.add('wide');
    blocks.Picture = [picture];
  }
}

/** The page's address with those of its parameters that are kept with the answers, and no other: any may be a key to somebody's account. */
function addressFor(takes: readonly string[]): string {
  const kept = [...new URLSearchParams(location.search)].filter(([name]) => /^utm_/i.test(name) || takes.includes(name));
  return location.origin + location.pathname + (kept.length > 0 ? `?${new URLSearchParams(kept)}` : '');
}

let made: CSSStyleSheet | undefined;
function sheet(): CSSStyleSheet {
  if (!made) {
    made = new CSSStyleSheet();
    made.replaceSync(styles);
  }
  return made;
}
