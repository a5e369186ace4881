import type { Drawn, ShapeEvents } from '../core/drawing';
import type { Launched, LauncherWorld, Message } from '../core/launcher';
import type { Channel, Cue, Launcher, PlanResponse, Turn } from '../core/types';
import type { Kit } from '../draw/kit';
import type { Talk } from '../talk/talk';
import type { TalkView } from '../talk/view';
import type { Sent } from './form';
import { sign } from './icons';
import styles from './launcher.css?inline';

type TalkFile = typeof import('../talk/talk') & typeof import('../talk/view');
type PanelFile = typeof import('./openApp') & typeof import('./panel') & typeof import('./sound');

/** Under this width of the view a launcher stands as on phones. */
const PHONE_PX = 640;

/** Says to the page that a conversation is open, so that nothing else starts beside it. */
const HOLD = 'outcryHold';

/** Under which a browser keeps its talk, and under which a link leads back to one. */
const TALK = 'outcry-talk-';
const TALK_LINK = 'outcry-talk';

/** What was opened: by whom, and with which greeting. */
interface Opened {
  panel: HTMLElement;
  /** Of a greeting that opened it by itself: tells the queue what became of it. */
  greeting: { cue: Cue; on: ShapeEvents } | undefined;
  /** Where the focus goes once it is closed. */
  from: HTMLElement | undefined;
}

/** Draws a launcher into a root of its own, so that it stays while page views come and go. */
export function openLauncher(kit: Kit, world: LauncherWorld): Launched {
  const { doc, make, button, quiet } = kit;
  const desk = new URL(import.meta.url).origin;
  const host = doc.createElement('outcry-launcher');
  const root = kit.styledRoot(host, styles);
  const stand = make('div', 'stand');
  root.append(stand);

  let plan: PlanResponse | undefined;
  let launcher: Launcher | undefined;
  let tab: HTMLElement | undefined;
  let opened: Opened | undefined;
  /** The greeting that was met last on this page view: what is written after it tells so. */
  let met: string | undefined;

  let panelFile: PanelFile | undefined;
  let fetching: Promise<void> | undefined;

  let talkFile: Promise<TalkFile | undefined> | undefined;
  let talk: Talk | undefined;
  let view: TalkView | undefined;
  let titled: string | undefined;

  /** Holds the talk of this browser, once there is one or somebody wants one. */
  async function holdTalk(): Promise<Talk | undefined> {
    const offer = launcher?.talk;
    if (talk || !offer) return talk;
    talkFile ??= import(/* @vite-ignore */ desk + offer.script).catch(() => {
      talkFile = undefined;
    });
    const file = await talkFile;
    talk ??= file?.holdTalk(kit, {
      desk,
      site: world.site,
      page: () => world.page(),
      first() {
        const chat = launcher?.channels.find((c) => c.kind === 'Chat') ?? chatted;
        return (
          plan &&
          launcher &&
          chat && {
            passport: plan.passport,
            launcher: launcher.id,
            channel: chat.id,
            greeting: met,
            gpc: navigator.globalPrivacyControl === true,
            language: launcher.lang,
          }
        );
      },
      changed: quiet(tell),
      types: (name) => view?.types(name),
    });
    return talk;
  }

  /** The channel by which one talks; it stays known when it is not offered any more. */
  let chatted: Channel | undefined;

  /** Draws the talk into the panel that is open. */
  async function openTalk(channel: Channel, begins: string): Promise<HTMLElement | undefined> {
    chatted = channel;
    const it = launcher;
    const held = await holdTalk();
    const file = await talkFile;
    if (!it || !held || !file) return undefined;
    view = file.drawTalk(kit, root, it, languages(), held, desk, prompter);
    const joined = held.join().catch(() => {});
    if (begins) void joined.then(() => held.say(begins));
    // Once it stands in the panel.
    setTimeout(
      quiet(() => {
        held.looks(() => !!view?.element.isConnected);
        view?.focus();
      }),
    );
    return view.element;
  }

  /** Opens a prompt that a script offered: the panel makes room for it. Not there where this page does not hold it. */
  const prompter = (id: string) => {
    if (!plan?.cues.some((c) => c.id === id)) return undefined;
    return quiet(() => {
      shut();
      window.outcry?.push(['show', id]);
    });
  };

  /** What is unread stands on the button and in the page's title. */
  function tell() {
    view?.draw();
    const count = view?.element.isConnected ? 0 : (talk?.unread() ?? 0);
    const words = launcher?.talk?.words.new ?? '{0}';
    const says = count > 0 ? words.replace('{0}', String(count)) : '';
    tab?.querySelector('.unread')?.remove();
    if (says) tab?.append(make('span', 'unread', says));
    // The page may have changed its title meanwhile: only what we put before it is taken off.
    const title = titled && doc.title.startsWith(titled) ? doc.title.slice(titled.length) : doc.title;
    titled = says ? `${says} · ` : undefined;
    if (doc.title !== (titled ?? '') + title) document.title = (titled ?? '') + title;
  }

  // A talk that is open in this browser goes on wherever a launcher stands; so does one that a mail led back to.
  async function goOn() {
    if (!launcher?.talk) return;
    const link = new RegExp(`[#&]${TALK_LINK}=([^&]+)`).exec(location.hash)?.[1];
    let hasTalk = !!link;
    try {
      hasTalk ||= !!localStorage.getItem(TALK + world.site);
    } catch {
      // Nothing can be kept here.
    }
    if (!hasTalk) return;
    const held = await holdTalk();
    if (link && held) {
      history.replaceState(history.state, '', location.pathname + location.search);
      if (await held.resume(decodeURIComponent(link))) void open();
    }
  }

  /** Fetches what is in the panel, once somebody is about to open it. */
  function fetchPanel(): Promise<void> {
    if (launcher)
      fetching ??= import(/* @vite-ignore */ desk + launcher.panel).then(
        (file: PanelFile) => {
          panelFile = file;
        },
        () => {
          // It could not be had: the next click asks again.
          fetching = undefined;
        },
      );
    return fetching ?? Promise.resolve();
  }

  const isPhone = () => innerWidth < PHONE_PX;
  const languages = () => {
    const own = navigator.languages.filter((l) => l.split('-')[0] === launcher?.lang.split('-')[0]);
    return [...own, launcher?.lang ?? 'en'];
  };

  function show(next: PlanResponse) {
    const before = launcher?.id;
    plan = next;
    launcher = next.launcher;
    // A panel that the visitor opened stays over a change of page, as long as it is the same launcher's.
    if (before !== launcher?.id || opened?.greeting) shut();
    met = undefined;
    tab?.remove();
    if (!launcher) {
      host.remove();
      return;
    }
    if (!host.isConnected) doc.documentElement.append(host);
    draw(launcher);
    if (next.cues.some((c) => c.opens || c.sounds)) void fetchPanel();
    if (launcher.fragment && location.hash === `#${launcher.fragment}`) ask();
    void goOn();
  }

  function draw(it: Launcher) {
    const { look } = it;
    stand.dir = it.rtl ? 'rtl' : 'ltr';
    stand.lang = it.lang;
    kit.dress(stand, look);
    tab = makeTab(it);
    stand.append(tab);
    tell();
    place();
  }

  // Straight to the channel where there is only one that leads elsewhere.
  const only = (it: Launcher): Channel | undefined => {
    const [first, ...rest] = it.channels;
    return it.direct && rest.length === 0 && first?.href ? first : undefined;
  };

  function makeTab(it: Launcher): HTMLElement {
    const { look } = it;
    const straight = only(it);
    const parts: Node[] = [];
    if (look.dot && it.open) parts.push(make('span', 'dot'));
    if (look.sign === 'Picture' && look.picture) {
      const image = make('img', 'sign');
      image.alt = '';
      image.src = look.picture;
      parts.push(image);
    } else if (look.sign !== 'None') parts.push(sign(look.sign === 'Question' ? 'Question' : 'Chat'));
    if (look.showsWords) parts.push(make('span', '', it.button));
    const made = straight ? kit.link(straight.href ?? '', straight.newWindow, '') : button('', it.button, ...parts);
    if (straight) made.append(...parts);
    if (!look.showsWords) made.setAttribute('aria-label', it.button);
    else made.removeAttribute('aria-label');
    made.className = `tab ${look.size.toLowerCase()}`;
    if (!straight) {
      made.setAttribute('aria-haspopup', 'dialog');
      made.setAttribute('aria-expanded', 'false');
    }
    for (const near of ['pointerenter', 'focusin']) made.addEventListener(near, () => void fetchPanel());
    made.addEventListener(
      'click',
      quiet((event: Event) => {
        if (!straight) {
          if (opened) return shut(true);
          world.signals.add('clicked', it.id);
          return void open();
        }
        world.signals.add('clicked', straight.id);
        if (straight.app) panelFile?.openApp(straight.app, straight.href ?? '', event);
      }) as EventListener,
    );
    return made;
  }

  /** Clear of what the page keeps in that corner, as everything of ours is. */
  function place() {
    if (!launcher || !tab) return;
    const { look } = launcher;
    const phone = isPhone();
    const side = (phone ? look.phoneSide : look.side).toLowerCase();
    stand.className = `stand ${side}`;
    stand.style.setProperty('--side', `${phone ? Math.min(look.sidePx, 12) : look.sidePx}px`);
    const least = phone ? look.phoneEdgePx : look.edgePx;
    const clear = ['[data-outcry-keep]', plan?.rules.clear].filter(Boolean).join();
    stand.style.setProperty('--edge', `${kit.edgeOffset(tab, false, clear, least) ?? least}px`);
  }

  /** Opens the panel, as the visitor asked. */
  async function open(greeting?: { turn: Turn; cue: Cue }, reply?: number) {
    const from = focused();
    await fetchPanel();
    unfold(from, greeting);
    if (reply !== undefined) opened?.panel.querySelectorAll<HTMLElement>('.reply')[reply]?.click();
  }

  const focused = () => (root.activeElement ?? doc.activeElement) as HTMLElement | null;

  function unfold(from: HTMLElement | null, greeting?: { turn: Turn; cue: Cue }, auto?: ShapeEvents) {
    if (!launcher || !panelFile) return;
    shut();
    const it = launcher;
    const panel = panelFile.makePanel(kit, root, it, languages(), {
      greeting: greeting?.turn.spans ?? it.greeting,
      replies: greeting?.cue.replies ?? [],
      close: quiet(() => shut(true)),
      used: quiet(use),
      took: (channel) => world.signals.add('clicked', channel.id),
      send,
      talk: launcher.talk && openTalk,
      isTalking: !!talk?.isBegun(),
    });
    panel.addEventListener('keydown', (event) => {
      if (event.key === 'Escape') shut(true);
    });
    opened = { panel, greeting: greeting && auto && { cue: greeting.cue, on: auto }, from: from ?? undefined };
    stand.prepend(panel);
    stand.classList.add('opened');
    tab?.setAttribute('aria-expanded', 'true');
    requestAnimationFrame(() => panel.classList.add('in'));
    if (auto) return;
    host.dataset[HOLD] = 'chat';
    // What opens by itself takes the focus from nobody.
    panel.focus();
  }

  // Once the visitor does something in a panel that opened by itself, it is theirs: a greeting that was answered.
  function use() {
    if (!opened?.greeting) return;
    const { on } = opened.greeting;
    opened.greeting = undefined;
    // Of the callout nothing is left: from here on it is a panel that the visitor has opened.
    delete opened.panel.dataset.id;
    on.clicked();
    host.dataset[HOLD] = 'chat';
  }

  function shut(byVisitor?: boolean) {
    if (!opened) return;
    const { panel, greeting, from } = opened;
    opened = undefined;
    view = undefined;
    panel.remove();
    stand.classList.remove('opened');
    delete host.dataset[HOLD];
    tab?.setAttribute('aria-expanded', 'false');
    if (!byVisitor) return;
    greeting?.on.closed();
    (from?.isConnected && from !== doc.body ? from : tab)?.focus();
  }

  function ask() {
    if (!launcher || opened) return;
    const straight = only(launcher);
    if (straight) tab?.click();
    else {
      world.signals.add('clicked', launcher.id);
      void open();
    }
  }

  async function send(message: Pick<Message, 'id' | 'channel' | 'fields'>): Promise<Sent> {
    if (!plan || !launcher) return undefined;
    const body: Message = {
      site: world.site,
      page: world.page(),
      passport: plan.passport,
      launcher: launcher.id,
      greeting: met,
      gpc: navigator.globalPrivacyControl === true,
      ...message,
    };
    try {
      const answer = await fetch(`${desk}/v/messages`, {
        method: 'POST',
        body: kit.toJson(body),
        headers: { 'content-type': 'text/plain' },
        credentials: 'omit',
        referrerPolicy: 'no-referrer',
      });
      if (answer.ok) return { taken: true };
      const problem = (await answer.json()) as { field?: string };
      return problem.field ? { field: problem.field } : undefined;
    } catch {
      // Nobody answered: what was typed stays, to be sent again.
      return undefined;
    }
  }

  /** A greeting: a bubble by the button, or the panel itself. */
  function greet(cue: Cue, turn: Turn, words: { close: string }, on: ShapeEvents): Drawn | undefined {
    if (!launcher || !tab) return undefined;
    met = cue.id;
    if (cue.sounds) panelFile?.ring();
    if (cue.opens && !isPhone() && panelFile) {
      unfold(null, { turn, cue }, on);
      const shown = opened;
      if (!shown) return undefined;
      kit.rests(shown.panel, on);
      return {
        element: shown.panel,
        remove() {
          if (opened === shown && shown.greeting) shut();
        },
      };
    }
    const bubble = make('div', 'bubble');
    bubble.setAttribute('role', 'status');
    const body = button('says', '', ...turn.spans.map((s) => kit.span(s, false)));
    body.removeAttribute('aria-label');
    body.dir = 'auto';
    const close = button('close', words.close, kit.cross());
    close.addEventListener('click', () => on.closed());
    const answer = (reply?: number) => () => {
      on.clicked();
      void open({ turn, cue }, reply);
    };
    body.addEventListener('click', quiet(answer()));
    const replies = (cue.replies ?? []).map((reply, i) => {
      const choice = button('choice', reply);
      choice.addEventListener('click', quiet(answer(i)));
      return choice;
    });
    bubble.append(body, ...(replies.length > 0 ? [make('div', 'choices', ...replies)] : []), close);
    bubble.addEventListener('keydown', (event) => {
      if (event.key === 'Escape') on.closed();
    });
    bubble.addEventListener('pointerenter', () => void fetchPanel());
    kit.rests(bubble, on);
    stand.prepend(bubble);
    requestAnimationFrame(() => bubble.classList.add('in'));
    return { element: bubble, remove: () => bubble.remove() };
  }

  // The page's own ways in.
  doc.addEventListener(
    'click',
    quiet((event: Event) => {
      if (!launcher || !kit.closest(event.target, '[data-outcry-open]')) return;
      event.preventDefault();
      ask();
    }) as EventListener,
  );
  addEventListener(
    'hashchange',
    quiet(() => {
      if (launcher?.fragment && location.hash === `#${launcher.fragment}`) ask();
    }),
  );
  addEventListener('resize', quiet(place));

  return { show, open: ask, draw: (cue, turn, words, _clear, on) => greet(cue, turn, words, on) };
}
