import type { Launcher } from '../core/types';
import type { Kit } from '../draw/kit';
import type { Talk } from './talk';
import styles from './talk.css?inline';
import type { TalkWords, Word } from './types';

const TYPES_FOR_MS = 5_000;

/** Where a talk is drawn. */
export interface TalkView {
  element: HTMLElement;
  /** Draws what has changed. */
  draw(): void;
  types(name: string): void;
  focus(): void;
}

let styled = false;

/** Draws a talk into the panel: what was said, who is writing, and the field for the next word. Strangers' strings are text everywhere. */
export function drawTalk(kit: Kit, root: ShadowRoot, launcher: Launcher, languages: readonly string[], talk: Talk): TalkView {
  const { make, button, quiet } = kit;
  const words = launcher.talk?.words as TalkWords;
  const time = new Intl.DateTimeFormat([...languages], { hour: 'numeric', minute: '2-digit' });
  if (!styled) {
    const sheet = new CSSStyleSheet();
    sheet.replaceSync(styles);
    root.adoptedStyleSheets = [...root.adoptedStyleSheets, sheet];
  }
  styled = true;

  const list = make('div', 'said');
  list.setAttribute('role', 'log');
  list.setAttribute('aria-live', 'polite');
  list.tabIndex = 0;
  list.setAttribute('aria-label', launcher.title);
  const unsent = make('div', 'unsent');
  const replies = make('div', 'replies');
  const note = make('p', 'note');
  note.setAttribute('role', 'status');
  const field = make('textarea', '');
  field.rows = 1;
  field.maxLength = 4_000;
  field.placeholder = words.write;
  field.setAttribute('aria-label', words.write);
  field.dir = 'auto';
  const send = make('button', 'send', launcher.words.send);
  send.type = 'submit';
  const form = make('form', 'say', field, send);
  const address = addressForm();
  const foot = make('div', 'acts');
  const element = make('div', 'talk', list, unsent, replies, note, address, form, foot);

  let shown = 0;
  let typesUntil = 0;
  let typing = '';
  let leaving = false;
  let drawnFirst: Word | undefined;

  function rowOf(word: Word): HTMLElement {
    const who = word.by === 'v' ? words.you : (word.name ?? '');
    const text = make('p', 'text');
    text.dir = 'auto';
    if (word.link) {
      const offer = kit.link(word.link, !word.link.startsWith('/'), '');
      offer.append(word.text);
      text.append(offer);
    } else text.append(...linked(word.text));
    const row = make('div', `row ${word.by === 'v' ? 'own' : 'theirs'}`);
    row.append(make('span', 'by', who ? `${who} ` : '', make('time', '', time.format(word.at))), text);
    return row;
  }

  /** A text with its web addresses as links; nothing else of it means anything. */
  function linked(text: string): (Node | string)[] {
    return text.split(/(https?:\/\/[^\s<>"']+[^\s<>"'.,;:!?)])/g).map((part, i) => {
      if (i % 2 === 0) return part;
      const anchor = kit.link(part, true, '');
      anchor.append(part);
      return anchor;
    });
  }

  function draw() {
    const said = talk.words();
    // Another talk, or none any more.
    if (said[0] !== drawnFirst) {
      list.replaceChildren();
      shown = 0;
      drawnFirst = said[0];
    }
    const atEnd = list.scrollHeight - list.scrollTop - list.clientHeight < 40;
    for (const word of said.slice(shown)) list.append(rowOf(word));
    const isNew = said.length > shown;
    // Who has said it is not writing it any more.
    if (isNew && said.at(-1)?.by === 'm') typesUntil = 0;
    shown = said.length;
    unsent.replaceChildren(
      ...talk.unsent().map(({ text }) => {
        const row = make('div', 'row own waits', make('span', 'by', words.waits), make('p', 'text', text));
        row.dir = 'auto';
        return row;
      }),
    );
    if (isNew && atEnd) list.scrollTop = list.scrollHeight;
    note.textContent = says();
    const { closed, hasAddress, asks } = talk.state();
    // A script asks for what it needs by itself.
    address.hidden = asks || hasAddress || !talk.isBegun() || closed || (launcher.open && !leaving);
    drawReplies();
    drawActs();
    const back = talk.givenBack();
    if (back && !field.value) field.value = back;
  }

  /** Ready replies of the question that waits; gone once anything is said after it. */
  function drawReplies() {
    const last = talk.words().at(-1);
    const offered = last?.by === 's' && talk.unsent().length === 0 ? (last.replies ?? []) : [];
    if (offered.join('|') === [...replies.children].map((c) => c.textContent).join('|')) return;
    replies.replaceChildren(
      ...offered.map((reply) => {
        const row = button('reply', reply, make('span', '', reply));
        row.removeAttribute('aria-label');
        row.addEventListener('click', () => {
          talk.say(reply);
          field.focus();
        });
        return row;
      }),
    );
    list.scrollTop = list.scrollHeight;
  }

  function says(): string {
    const { closed, seen, who, hasAddress } = talk.state();
    const last = talk.words().at(-1);
    if (!navigator.onLine && talk.unsent().length > 0) return words.offline;
    if (Date.now() < typesUntil) return words.types.replace('{0}', typing);
    if (closed) return words.ended;
    if (last?.by !== 'v') return '';
    if (!who && !launcher.open) return hasAddress ? '' : words.taken;
    return seen >= last.n ? words.seen : '';
  }

  function drawActs() {
    const acts: HTMLElement[] = [];
    const { closed, hasAddress, asks } = talk.state();
    if (talk.isBegun() && !closed) {
      const end = button('act', words.end);
      end.addEventListener('click', () => void talk.end());
      acts.push(end);
    }
    if (asks && !closed) {
      const person = button('act', words.person);
      person.addEventListener('click', () => talk.askForPerson());
      acts.push(person);
    }
    if (talk.isBegun() && !hasAddress && launcher.open && !leaving) {
      const ask = button('act', words.transcript);
      ask.addEventListener('click', () => {
        leaving = true;
        draw();
        address.querySelector('input')?.focus();
      });
      acts.push(ask);
    }
    // Drawn anew only where it differs: a focus in it stays.
    const before = [...foot.children].map((c) => c.textContent).join('|');
    if (before !== acts.map((a) => a.textContent).join('|')) foot.replaceChildren(...acts);
  }

  function addressForm(): HTMLFormElement {
    const email = make('input', '');
    email.type = 'email';
    email.autocomplete = 'email';
    email.maxLength = 200;
    email.setAttribute('aria-label', launcher.words.fields.Email);
    email.placeholder = launcher.words.fields.Email;
    const wrong = make('span', 'wrong');
    wrong.setAttribute('role', 'alert');
    const keep = make('button', 'send', words.agree);
    keep.type = 'submit';
    const form = make('form', 'address', make('p', '', words.leave), email, keep, wrong);
    form.noValidate = true;
    form.addEventListener(
      'submit',
      quiet((event: Event) => {
        event.preventDefault();
        const typed = email.value.trim();
        void talk.leaveAddress(typed, leaving).then((how) => {
          wrong.textContent = how === 'taken' ? '' : how === 'wrong' ? launcher.words.checkEmail : launcher.words.notSent;
          if (how !== 'taken') return email.focus();
          leaving = false;
          form.hidden = true;
          note.textContent = words.left.replace('{0}', typed);
          field.focus();
        });
      }) as EventListener,
    );
    return form;
  }

  function say() {
    const text = field.value.trim();
    if (!text) return;
    field.value = '';
    grow();
    talk.say(text);
    list.scrollTop = list.scrollHeight;
  }

  function grow() {
    field.style.height = 'auto';
    field.style.height = `${Math.min(field.scrollHeight, 120)}px`;
  }

  form.addEventListener(
    'submit',
    quiet((event: Event) => {
      event.preventDefault();
      say();
    }) as EventListener,
  );
  field.addEventListener(
    'keydown',
    quiet((event: KeyboardEvent) => {
      if (event.key !== 'Enter' || event.shiftKey || event.isComposing) return;
      event.preventDefault();
      say();
    }) as EventListener,
  );
  field.addEventListener(
    'input',
    quiet(() => {
      grow();
      if (field.value.trim()) talk.typing();
    }),
  );

  draw();
  return {
    element,
    draw,
    types(name) {
      typing = name;
      typesUntil = Date.now() + TYPES_FOR_MS;
      draw();
      setTimeout(draw, TYPES_FOR_MS + 50);
    },
    focus: () => field.focus(),
  };
}
