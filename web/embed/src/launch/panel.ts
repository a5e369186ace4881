import type { Channel, Launcher, Span } from '../core/types';
import type { Kit } from '../draw/kit';
import type { FormAround } from './form';
import { makeForm } from './form';
import { sign } from './icons';
import { openApp } from './openApp';
import styles from './panel.css?inline';
import { isSameDay, sayTime, sayWhen } from './when';

/** What is in the panel, beside what the launcher says of itself. */
export interface PanelAround {
  /** The greeting that opened it, with its ready replies; the launcher's own where none did. */
  greeting: readonly Span[];
  replies: readonly string[];
  close(): void;
  /** The visitor did something in it. */
  used(): void;
  /** A way to talk was taken. */
  took(channel: Channel): void;
  send: FormAround['send'];
  /** Draws a talk that begins with a word, or goes on; not there where nobody talks on the page. */
  talk: ((channel: Channel, begins: string) => Promise<HTMLElement | undefined>) | undefined;
  /** Whether one is open in this browser. */
  isTalking: boolean;
}

let styled = false;

/** Makes the panel: who speaks, open or closed, the greeting, ready replies, ways to talk. */
export function makePanel(kit: Kit, root: ShadowRoot, launcher: Launcher, languages: readonly string[], around: PanelAround): HTMLElement {
  const { make, button, cross, span } = kit;
  const { words, speaker } = launcher;
  const panel = make('section', 'panel');
  panel.setAttribute('role', 'dialog');
  panel.setAttribute('aria-label', launcher.title);
  panel.tabIndex = -1;
  const style = new CSSStyleSheet();
  style.replaceSync(styles);
  if (!styled) root.adoptedStyleSheets = [...root.adoptedStyleSheets, style];
  styled = true;

  const says = launcher.opensAt
    ? `${launcher.says}. ${words.opensNext.replace('{0}', sayWhen(launcher.opensAt, Date.now(), languages))}`
    : launcher.says;
  const close = button('close', words.close, cross());
  close.addEventListener('click', () => around.close());
  const who = make('div', 'who');
  if (speaker) who.append(...faces(speaker));
  who.append(
    make(
      'div',
      '',
      make('strong', '', launcher.title),
      make('span', launcher.open ? 'state open' : 'state', says),
      ...(speaker?.name ? [make('span', 'state', speaker.role ? `${speaker.name}, ${speaker.role}` : speaker.name)] : []),
    ),
  );
  const body = make('div', 'inside');
  panel.append(make('div', 'head', who, close), body);

  function start() {
    const rows = around.replies.map((reply) => {
      const row = button('reply', reply, make('span', '', reply), sign('Next'));
      row.removeAttribute('aria-label');
      row.addEventListener('click', () => {
        around.used();
        const written = launcher.channels.find((c) => c.fields);
        if (written) write(written, reply);
      });
      return row;
    });
    const written = launcher.channels.filter((c) => c.fields);
    const others = launcher.channels.filter((c) => !c.fields);
    const greeting = make('p', 'greeting', ...around.greeting.map((s) => span(s, true)));
    // A greeting may be in a language that the launcher's own words lack.
    greeting.dir = 'auto';
    body.replaceChildren(
      greeting,
      ...rows,
      ...written.map((c) => {
        const row = button('write', c.label, sign(c.kind), make('span', '', c.label), sign('Next'));
        row.removeAttribute('aria-label');
        row.addEventListener('click', () => {
          around.used();
          write(c, '');
        });
        return row;
      }),
      ...(others.length > 0 ? [make('div', 'ways', ...others.map(way))] : []),
    );
  }

  async function talkAt(channel: Channel, begins: string) {
    const drawn = await around.talk?.(channel, begins);
    // The file could not be had: a form takes the message all the same.
    if (!drawn) return fillIn(channel, begins);
    around.took(channel);
    body.replaceChildren(backTo(channel), drawn);
  }

  function backTo(channel: Channel): HTMLElement {
    const back = button('back', `${words.back}: ${channel.label}`, sign('Back'), make('span', '', channel.label));
    back.addEventListener('click', start);
    return back;
  }

  function write(channel: Channel, begins: string) {
    if (channel.kind === 'Chat' && around.talk) void talkAt(channel, begins);
    else fillIn(channel, begins);
  }

  function fillIn(channel: Channel, begins: string) {
    const form = makeForm(kit, channel, {
      words,
      begins,
      send: around.send,
      sent() {
        around.took(channel);
        const thanks = make('p', 'greeting', launcher.thanks);
        thanks.setAttribute('role', 'status');
        thanks.tabIndex = -1;
        body.replaceChildren(thanks);
        thanks.focus();
      },
    });
    body.replaceChildren(backTo(channel), form);
    // What is filled in already is not what is asked for next.
    const inputs = [...form.querySelectorAll<HTMLInputElement | HTMLTextAreaElement>('input,textarea')];
    (inputs.find((i) => !i.value) ?? inputs[0])?.focus();
  }

  function way(channel: Channel): HTMLElement {
    const { href = '', app, label, untilMs, newWindow, kind } = channel;
    const anchor = kit.link(href, newWindow, 'way');
    anchor.append(sign(kind), make('span', '', label));
    if (untilMs && isSameDay(untilMs, Date.now()))
      anchor.append(make('span', 'until', words.until.replace('{0}', sayTime(untilMs, languages))));
    anchor.addEventListener('click', (event) => {
      around.used();
      around.took(channel);
      if (app) openApp(app, href, event);
    });
    return anchor;
  }

  function faces({ portrait, initials }: NonNullable<Launcher['speaker']>): HTMLElement[] {
    return initials.map((letters) => {
      const face = make('span', 'face', letters);
      face.setAttribute('aria-hidden', 'true');
      if (portrait) {
        const image = make('img', '');
        image.alt = '';
        image.src = portrait;
        image.addEventListener('load', () => face.replaceChildren(image));
      }
      return face;
    });
  }

  const chat = launcher.channels.find((c) => c.kind === 'Chat');
  start();
  if (around.isTalking && chat) write(chat, '');
  return panel;
}
