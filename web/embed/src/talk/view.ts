import type { Launcher } from '../core/types';
import type { Kit } from '../draw/kit';
import type { Talk } from './talk';
import styles from './talk.css?inline';
import type { SentFile, TalkWords, Word } from './types';

const TYPES_FOR_MS = 5_000;
const SHORT_REPLY = 20;

/** Where a talk is drawn. */
export interface TalkView {
  element: HTMLElement;
  /** Draws what has changed. */
  draw(): void;
  types(name: string): void;
  focus(): void;
}

/** How a prompt is opened by its id; undefined where this page does not hold it. */
export type Prompter = (id: string) => (() => void) | undefined;

const PROMPT = 'prompt:';

let styled = false;

const calm = () => matchMedia('(prefers-reduced-motion: reduce)').matches;

/** A paper clip, drawn with one pen. */
function clip(): SVGElement {
  const space = 'http://www.w3.org/2000/svg';
  const sign = document.createElementNS(space, 'svg');
  sign.setAttribute('viewBox', '0 0 16 16');
  sign.setAttribute('aria-hidden', 'true');
  const path = document.createElementNS(space, 'path');
  path.setAttribute('d', 'M13 7 8 12a3 3 0 0 1-4-4l5-5a2 2 0 0 1 3 3l-5 5a1 1 0 0 1-1-1l4-4');
  sign.append(path);
  return sign;
}

/** Draws a talk into the panel: what was said, who is writing, and the field for the next word. Strangers' strings are text everywhere. */
export function drawTalk(
  kit: Kit,
  root: ShadowRoot,
  launcher: Launcher,
  languages: readonly string[],
  talk: Talk,
  desk: string,
  prompter: Prompter,
): TalkView {
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
  const attach = button('attach', words.file, clip());
  const form = make('form', 'say', attach, field, send);
  const address = addressForm();
  const foot = make('div', 'acts');
  const element = make('div', 'talk', list, unsent, replies, note, address, form, foot);

  let shown = 0;
  /** Until when the next line of a script is held back, as if somebody typed it. */
  let heldUntil = 0;
  /** What was there when the talk was opened is not typed anew. */
  let isLive = !talk.isBegun();
  let failed = '';
  let typesUntil = 0;
  let typing = '';
  let leaving = false;
  let drawnFirst: Word | undefined;

  function rowOf(word: Word): HTMLElement {
    const who = word.by === 'v' ? words.you : (word.name ?? '');
    const text = make('p', 'text');
    text.dir = 'auto';
    if (word.file) text.append(fileOf(word.file));
    else if (word.link?.startsWith(PROMPT)) text.append(promptOf(word.link.slice(PROMPT.length), word.text));
    else if (word.link) {
      const offer = kit.link(word.link, word.link.startsWith('http'), '');
      offer.append(word.text);
      text.append(offer);
    } else text.append(...linked(word.text));
    const row = make('div', `row ${word.by === 'v' ? 'own' : 'theirs'}`);
    row.append(make('span', 'by', who ? `${who} ` : '', make('time', '', time.format(word.at))), text);
    return row;
  }

  /** A button that opens a prompt; on a page that does not hold it, its words alone. */
  function promptOf(id: string, says: string): Node | string {
    const open = prompter(id);
    if (!open) return says;
    const offer = button('offer', says, says);
    offer.removeAttribute('aria-label');
    offer.addEventListener('click', open);
    return offer;
  }

  /** A file to be fetched; a picture is shown as well. */
  function fileOf(file: SentFile): HTMLElement {
    const anchor = kit.link(desk + file.path, true, '');
    if (file.width && file.height) {
      const picture = make('img', 'sent');
      picture.src = desk + file.path;
      picture.alt = file.name;
      picture.width = file.width;
      picture.height = file.height;
      // What it pushes down comes into sight again.
      picture.addEventListener('load', () => {
        if (list.scrollHeight - list.scrollTop - list.clientHeight < 240) list.scrollTop = list.scrollHeight;
      });
      anchor.append(picture);
    } else anchor.append(`${file.name} (${Math.max(1, Math.round(file.bytes / 1024))} KB)`);
    return anchor;
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
    const before = shown;
    for (const word of said.slice(shown)) {
      if (holdsBack(word)) break;
      list.append(rowOf(word));
      shown++;
    }
    isLive ||= talk.isBegun() && said.length > 0;
    const isNew = shown > before;
    // Who has said it is not writing it any more.
    if (isNew && said.at(-1)?.by === 'm') typesUntil = 0;
    unsent.replaceChildren(
      ...talk.unsent().map(({ text }) => {
        const row = make('div', 'row own waits', make('span', 'by', words.waits), make('p', 'text', text));
        row.dir = 'auto';
        return row;
      }),
    );
    if (isNew && atEnd) list.scrollTop = list.scrollHeight;
    note.textContent = says();
    const { closed, hasAddress, asks, late } = talk.state();
    attach.hidden = !talk.isBegun() || closed;
    // A script asks for what it needs by itself.
    address.hidden = asks || hasAddress || !talk.isBegun() || closed || (launcher.open && !leaving && !late);
    drawReplies();
    drawActs();
    const back = talk.givenBack();
    if (back && !field.value) field.value = back;
  }

  /** A line of a script comes after its pause, as if somebody typed it; a visitor who writes skips the waits. */
  function holdsBack(word: Word): boolean {
    if (!word.pause || !isLive || field.value || talk.unsent().length > 0) return false;
    const now = Date.now();
    if (!heldUntil) {
      heldUntil = now + word.pause;
      setTimeout(quiet(draw), word.pause + 10);
    }
    if (heldUntil > now) return true;
    heldUntil = 0;
    return false;
  }

  /** Ready replies of the question that waits; gone once anything is said after it. */
  function drawReplies() {
    // A file is no answer: the question goes on waiting.
    const last = talk
      .words()
      .slice(0, shown)
      .filter((w) => w.by !== 'v' || !w.file)
      .at(-1);
    const offered = shown === talk.words().length && last?.by === 's' && talk.unsent().length === 0 ? (last.replies ?? []) : [];
    if (offered.join('|') === [...replies.children].map((c) => c.textContent).join('|')) return;
    // Many short ones stand side by side, so that what is written in stays in sight.
    replies.classList.toggle('pairs', offered.length > 3 && offered.every((r) => r.length <= SHORT_REPLY));
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
    const { closed, seen, who, hasAddress, asks } = talk.state();
    const last = talk.words().at(-1);
    if (failed) return failed;
    if (!navigator.onLine && talk.unsent().length > 0) return words.offline;
    if (Date.now() < typesUntil) return words.types.replace('{0}', typing);
    if (closed) return words.ended;
    if (heldUntil && !calm()) return '…';
    if (!who && !asks && launcher.talk?.usual && (!last || last.by === 'v')) return words.usual.replace('{0}', long(launcher.talk.usual));
    if (last?.by !== 'v') return '';
    if (asks) return '';
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

  /** "5 minutes", in the visitor's words. */
  function long(minutes: number): string {
    const [value, unit] = minutes < 60 ? [minutes, 'minute'] : minutes < 1_440 ? [minutes / 60, 'hour'] : [minutes / 1_440, 'day'];
    return new Intl.NumberFormat(launcher.lang, { style: 'unit', unit: unit as string, unitDisplay: 'long' }).format(value as number);
  }

  async function sendFiles(files: Iterable<File>) {
    for (const file of files) {
      const how = await talk.sendFile(file);
      failed = how === 'taken' ? '' : how === 'wrong' ? words.fileLimits : words.fileFailed;
      draw();
      if (failed) return;
    }
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

  attach.addEventListener('click', () => {
    const chooser = make('input', '');
    chooser.type = 'file';
    chooser.multiple = true;
    chooser.accept = 'image/png,image/jpeg,image/webp,image/gif,application/pdf,text/plain';
    chooser.addEventListener(
      'change',
      quiet(() => void sendFiles(chooser.files ?? [])),
    );
    chooser.click();
  });
  field.addEventListener(
    'paste',
    quiet((event: ClipboardEvent) => {
      const files = event.clipboardData?.files;
      if (!files?.length || attach.hidden) return;
      event.preventDefault();
      void sendFiles(files);
    }),
  );
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
      failed = '';
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
