import { query, scrolled } from './dom/acts';
import { doc, quiet } from './dom/bare';
import { type Kit, kit } from './dom/kit';
import { openMemory, PENDING, stageToken } from './dom/memory';
import { ask } from './dom/network';
import { type PageView, performPage } from './dom/pageView';
import { createSignals } from './dom/signals';
import type { Heard, Listening } from './listen';
import { findPrivateLink, kindOf } from './model/privateToken';
import type { Hold } from './model/queue';
import type { LogEntry, PlanResponse } from './model/types';
import { createVisibleClock, type VisibleClock } from './model/visibleClock';
import type { More } from './shapes';

/** A single-page application writes its address many times while it settles; this long after the last time it is read. */
const SETTLED_MS = 300;

/** Elements that the desk asks about are looked for this long after arrival. */
const LOOK_AFTER_MS = 2000;

/** A sign of life this often keeps the visitor among those who are here now (counted over 60 s). */
const ALIVE_EVERY_MS = 25_000;

type Data = Record<string, unknown>;

type Command =
  | [name: 'visitor', tell: (id: string) => void]
  | [name: 'page']
  | [name: 'track', event: string, data?: Data | undefined]
  | [name: 'identify', data: Data, signature?: string | undefined]
  | [name: 'consent', agreed: boolean]
  | [name: 'hold', what: Hold, open: boolean];

/** What pages may call once the script is there; `push` works before that too. */
interface Calls {
  push(command: Command): void;
  /** Reports an event of the page's own by name; "basket" is a basket addition. */
  track(event: string, data?: Data): void;
  /** Says who the visitor is; a signature of `data.id` by the site's server makes it binding. */
  identify(data: Data, signature?: string): void;
  /** Says whether the visitor agreed that anything may be stored in the browser. */
  consent(agreed: boolean): void;
  /** Says that the consent notice, a chat or a dialog of the page's own opened or closed, where nothing in the page tells. */
  hold(what: Hold, open: boolean): void;
}

declare global {
  interface Window {
    outcry?: Calls | Command[];
  }
  interface Navigator {
    /** Global Privacy Control: the browser's standing request not to have data sold or shared. */
    readonly globalPrivacyControl?: boolean;
  }
}

/**
 * The width of the view as far as devices are told apart by it: the lower limit in CSS pixels, 320 for a phone's.
 * Asked of media queries, since the width itself makes the browser lay the page out before its styles are there.
 */
const viewWidth = () => [1024, 640].find((px) => matchMedia(`(min-width:${px}px)`).matches) ?? 320;

function begin(script: HTMLScriptElement) {
  const desk = new URL(script.src).origin;
  const site = /\/o\/([^/]+)\.js/.exec(script.src)?.[1] ?? '';

  const link = findPrivateLink(location.hash);
  if (link) history.replaceState(history.state, '', location.pathname + location.search + link.rest);
  if (link && kindOf(link.token) !== 'member') stageToken.write(link.token);
  // Only in a frame can a page be a stage; its token left over in a tab of its own means nothing. A trial visit can be both.
  const kept = stageToken.read();
  const stage = window !== parent || kindOf(kept) === 'trial' ? kept : undefined;
  const memory = openMemory(site, !!stage);
  const gpc = navigator.globalPrivacyControl === true;
  // A member's own browser must stay known as one, or its visits would count.
  if (link && !stage) {
    memory.write({ memberToken: link.token });
    memory.allow(true);
  }

  /** What the page says of its visitor, as far as it is not private; kept for this page only. */
  let said: { known: boolean; attributes: Record<string, string> } | undefined;
  let plan: PlanResponse | undefined;
  let view: PageView | undefined;
  let clock: VisibleClock = createVisibleClock(() => performance.now(), !doc.hidden);
  let asked = 0;
  /** The page view already counted: asking again on the same page, as after consent, is no second one. */
  let viewed = false;
  /** How far this page was scrolled, in percent. */
  let depth = 0;
  const waitingForVisitor: ((id: string) => void)[] = [];

  const signals = createSignals(`${desk}/v/signals`, () =>
    plan && !stage ? { site, page: address, width: viewWidth(), passport: plan.passport, gpc } : undefined,
  );
  /** The page's address as far as it leaves the browser; on a stage, which only a member sees, all of its query. */
  const here = () => {
    const kept = location.search
      .slice(1)
      .split('&')
      .filter((part) => stage || ASKED.test(part))
      .join('&');
    return location.origin + location.pathname + (kept && '?') + kept;
  };
  let address = here();
  let listening: Promise<Listening | undefined> | undefined;
  /** What this page view knows of the log; what else turns up in it happened in another tab. */
  let known = new Set<string>();

  function note(entry: Omit<LogEntry, 'at'>) {
    const noted = { ...entry, at: Date.now() };
    known.add(keyOf(noted));
    memory.note(noted);
  }

  function news(): LogEntry[] {
    const fresh = memory.read().log.filter((e) => !known.has(keyOf(e)));
    for (const entry of fresh) known.add(keyOf(entry));
    return fresh;
  }

  /** `again` on the same page view, as after consent: it is no second one, and what is on screen stays. */
  async function askForPlan(again = false) {
    const turn = ++asked;
    const { passport, memberToken, agreed, log } = memory.read();
    const sent = new Set(log.map(keyOf));
    const answer = await ask<PlanResponse>(`${desk}/v/plan`, {
      site,
      page: address,
      width: viewWidth(),
      passport,
      token: stage ?? memberToken,
      agreed,
      gpc,
      languages: navigator.languages,
      // The host is all that is asked of it.
      referrer: doc.referrer.split('/', 3).join('/'),
      offset: -new Date().getTimezoneOffset(),
      again,
      ...said,
      log: log.map((e) => ({ callout: e.callout, what: e.what, key: keyOf(e), agoMs: Math.max(0, Date.now() - e.at) })),
    });
    // A route change may have overtaken the answer, and what answers may not be our desk.
    if (!answer?.cues || turn !== asked) return;
    const before = plan;
    plan = answer;
    memory.write({
      passport: answer.passport,
      memberToken: answer.counted ? undefined : memberToken,
      log: memory.read().log.map((e) => (sent.has(keyOf(e)) ? { ...e, ok: true } : e)),
    });
    memory.allow(answer.store || memory.read().memberToken !== undefined);
    if (again && before?.cues.length) return;
    known = sent;
    view?.leave();
    clock = createVisibleClock(() => performance.now(), !doc.hidden);
    view = performPage(answer, clock, {
      signals,
      note,
      news,
      changed: listen,
      loadMore: () => loadMore(desk + answer.shapes),
      askIfThere: async () => (await ask<{ there: boolean }>(`${desk}/v/there`, { site, page: address }))?.there ?? false,
    });
    if (answer.counted && !viewed) signals.add('view');
    viewed = true;
    const { mark } = answer;
    if (mark) void loadMore(desk + answer.shapes).then(quiet((more) => more?.showMark(mark, desk, { site, page: address, token: stage })));
    if (answer.stage) parent.postMessage({ outcry: 'staged', note: answer.stage.note }, desk);
    fillVisitor(answer.visitor);
    for (const tell of waitingForVisitor.splice(0)) tell(answer.visitor);
    view.run();
    if (stage) return;
    signals.flush();
    const { look } = answer;
    if (look && answer.counted) {
      const inView = look.filter((s) => (query(s)?.getBoundingClientRect().top ?? Infinity) < innerHeight);
      // Pages go on being built for a while; the second look is the one that counts for what is not there.
      setTimeout(
        quiet(() => signals.report({ places: { found: look.filter(query), inView } })),
        LOOK_AFTER_MS,
      );
    }
    listen();
    void listening?.then((it) => it?.look());
  }

  /** What watches forms and baskets comes in a file of its own, once a page has any of them. */
  function listen() {
    if (listening || !plan || stage) return;
    if (!doc.querySelector('form') && plan.baskets.length === 0 && !sessionHas(PENDING)) return;
    const heard: Heard = {
      forms: () => plan?.forms ?? [],
      baskets: () => plan?.baskets ?? [],
      mayStore: memory.mayStore,
      report: signals.report,
    };
    listening = fetchPart<{ open(pieces: Kit, heard: Heard): Listening }>(desk + plan.listen).then((part) => {
      const it = part?.open(kit, heard);
      it?.look();
      return it;
    });
    listening.catch(() => {});
  }

  function leave() {
    view?.leave();
    view = undefined;
    if (plan?.counted) {
      signals.add('left', undefined, clock.nowMs());
      if (depth > 0) signals.add('depth', undefined, depth);
    }
    depth = 0;
    signals.flush();
  }

  /** A page of its own is another path, or another value of a parameter that somebody asks for. */
  function turnPage(anyway?: boolean) {
    const next = here();
    if (next === address && !anyway) return;
    leave();
    address = next;
    plan = undefined;
    viewed = false;
    void start();
  }

  const start = () => askForPlan().catch(() => {});

  on('visibilitychange', () => {
    // The clock stops first: what is due as the tab goes is shown when it is back.
    clock.setVisible(!doc.hidden);
    view?.act({ k: doc.hidden ? 'Hide' : 'Return' });
    if (doc.hidden) signals.flush();
  });
  on('scroll', () => (depth = Math.max(depth, scrolled())));
  on('pagehide', leave);
  on('pageshow', (event: PageTransitionEvent) => {
    if (event.persisted) void start();
  });
  // A close in another tab is a close here.
  on('storage', (event: StorageEvent) => {
    if (event.key === memory.name) view?.run();
  });
  watchRoutes(turnPage);
  on('message', (event: MessageEvent) => {
    if (stage && event.origin === desk && event.data?.outcry === 'stage') void start();
  });
  setInterval(
    quiet(() => {
      if (!doc.hidden && plan && !stage) void live(plan);
    }),
    ALIVE_EVERY_MS,
  );

  /** A sign of life, answered with what is no longer live. */
  async function live({ passport, cues }: PlanResponse) {
    const body = { site, page: address, passport, on: cues.map((c) => c.id) };
    const answer = await ask<{ over: string[] }>(`${desk}/v/alive`, body);
    if (Array.isArray(answer?.over)) quiet(() => view?.over(answer.over))();
  }

  function take(command: Command) {
    switch (command[0]) {
      case 'page':
        return turnPage(true);
      case 'visitor':
        return plan ? command[1](plan.visitor) : waitingForVisitor.push(command[1]);
      case 'track':
        view?.act({ k: 'PageEvent', t: String(command[1]) });
        return signals.report({ track: { name: String(command[1]), data: command[2] } });
      case 'identify':
        said = { known: true, attributes: openAttributes(command[1]) };
        return signals.report({ identify: { data: command[1], signature: command[2] } });
      case 'hold':
        return view?.hold(command[1], command[2] === true);
      case 'consent':
        memory.write({ agreed: command[1] === true });
        // The answer to the next question says whether anything may be kept; a no is carried out at once.
        if (command[1] === true) void askForPlan(!!plan).catch(() => {});
        else memory.allow(false);
    }
  }
  const early = window.outcry;
  const call = quiet(take);
  window.outcry = {
    push: call,
    track: (event, data) => call(['track', event, data]),
    identify: (data, signature) => call(['identify', data, signature]),
    consent: (agreed) => call(['consent', agreed]),
    hold: (what, open) => call(['hold', what, open]),
  };
  if (Array.isArray(early)) for (const command of early) call(command);

  // A page that is only fetched ahead is looked at when it is shown, if ever.
  if ('prerendering' in doc && doc.prerendering) doc.addEventListener('prerenderingchange', () => void start(), { once: true });
  else if (doc.readyState === 'loading') doc.addEventListener('DOMContentLoaded', () => void start());
  else void start();
}

const keyOf = ({ callout, what, at }: LogEntry) => at.toString(36) + what[0] + callout.slice(-4);

function sessionHas(name: string): boolean {
  try {
    return sessionStorage.getItem(name) !== null;
  } catch {
    return false;
  }
}

/** Writes the visitor's id into fields marked for it, so that a shop's server can say whose purchase it reports. */
function fillVisitor(visitor: string) {
  for (const input of doc.querySelectorAll<HTMLInputElement>('input[data-outcry-visitor]')) input.value = visitor;
}

/** Listens to the window, past whatever is called like its methods. */
function on(type: string, told: (event: never) => void) {
  EventTarget.prototype.addEventListener.call(window, type, quiet(told as (event: Event) => void), { passive: true });
}

/**
 * Parameters of an address that may leave the browser: those of campaigns, and those that a rule of the site asks for,
 * whose names the desk writes in here as it serves this file. Any other may be a key to somebody's account.
 */
const ASKED = /^(utm_\w+|asked)(=|$)/i;

/** What must not be sent with every question for a plan. */
const PRIVATE = /mail|phone|name|street|address/i;

function openAttributes(data: Data): Record<string, string> {
  return Object.fromEntries(
    Object.entries(data)
      .filter(([key, value]) => !PRIVATE.test(key) && (typeof value === 'string' || typeof value === 'number'))
      .map(([key, value]) => [key, String(value)]),
  );
}

let more: Promise<More | undefined> | undefined;

/** What few pages need comes in a file of its own, once. */
function loadMore(address: string): Promise<More | undefined> {
  more ??= fetchPart<{ open(pieces: Kit): More }>(address).then((part) => part?.open(kit));
  return more;
}

const fetchPart = <T>(address: string): Promise<T | undefined> =>
  import(/* @vite-ignore */ address).then(
    (part) => part,
    () => undefined,
  );

/** Tells of route changes of single-page applications, which no event announces. */
function watchRoutes(turned: () => void) {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const settle = () => {
    clearTimeout(timer);
    timer = setTimeout(
      quiet(() => turned()),
      SETTLED_MS,
    );
  };
  for (const name of ['pushState', 'replaceState'] as const) {
    const original = history[name];
    history[name] = function (...args: Parameters<History['pushState']>) {
      original.apply(this, args);
      settle();
    };
  }
  on('popstate', settle);
}

// Pasted twice, or on a page that has no script element to be read: the first one runs, and nothing else happens.
quiet(() => {
  const script = doc.currentScript;
  const before = window.outcry as Partial<Calls> | undefined;
  if (script instanceof HTMLScriptElement && !before?.hold) begin(script);
})();
