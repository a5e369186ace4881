import { scrolled } from './dom/acts';
import { watchBaskets } from './dom/baskets';
import { fillVisitor, watchForms } from './dom/forms';
import { type Kit, kit } from './dom/kit';
import { openMemory, openPending, stageToken } from './dom/memory';
import { ask } from './dom/network';
import { type PageView, performPage } from './dom/pageView';
import { createSignals } from './dom/signals';
import { findPrivateLink, kindOf } from './model/privateToken';
import type { Hold } from './model/queue';
import type { LogEntry, PlanResponse } from './model/types';
import { createVisibleClock, type VisibleClock } from './model/visibleClock';
import type { More } from './shapes';

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
  let clock: VisibleClock = createVisibleClock(() => performance.now(), !document.hidden);
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
  /** The query as the browser has it: whatever of it changes, told or not, it is another page view. */
  let { search } = location;

  function note(callout: string, what: LogEntry['what']) {
    memory.write({ log: [...memory.read().log, { callout, what, at: Date.now() }].slice(-50) });
  }

  async function askForPlan() {
    const turn = ++asked;
    const { passport, memberToken, agreed, log } = memory.read();
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
      referrer: document.referrer.split('/', 3).join('/'),
      offset: -new Date().getTimezoneOffset(),
      ...said,
      log: log.map(({ callout, what, at }) => ({ callout, what, agoMs: Math.max(0, Date.now() - at) })),
    });
    // A route change may have overtaken the answer.
    if (!answer || turn !== asked) return;
    plan = answer;
    memory.write({
      passport: answer.passport,
      memberToken: answer.counted ? undefined : memberToken,
      log: memory.read().log.slice(log.length),
    });
    memory.allow(answer.store || memory.read().memberToken !== undefined);
    view?.leave();
    clock = createVisibleClock(() => performance.now(), !document.hidden);
    view = performPage(answer, clock, {
      signals,
      note,
      loadMore: () => loadMore(desk + answer.shapes),
      askIfThere: async () => (await ask<{ there: boolean }>(`${desk}/v/there`, { site, page: address }))?.there ?? false,
    });
    if (answer.counted && !viewed) signals.add('view');
    viewed = true;
    const { mark } = answer;
    if (mark) void loadMore(desk + answer.shapes).then((more) => more?.showMark(mark, desk, { site, page: address, token: stage }));
    if (answer.stage) parent.postMessage({ outcry: 'staged', note: answer.stage.note }, desk);
    fillVisitor(answer.visitor);
    for (const tell of waitingForVisitor.splice(0)) tell(answer.visitor);
    view.run();
    if (stage) return;
    signals.flush();
    forms.look();
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

  function turnPage() {
    const next = here();
    if (next === address && search === location.search) return;
    leave();
    search = location.search;
    address = next;
    plan = undefined;
    viewed = false;
    void askForPlan();
  }

  addEventListener('visibilitychange', () => {
    // The clock stops first: what is due as the tab goes is shown when it is back.
    clock.setVisible(!document.hidden);
    view?.act({ k: document.hidden ? 'Hide' : 'Return' });
    if (document.hidden) signals.flush();
  });
  addEventListener('scroll', () => (depth = Math.max(depth, scrolled())), { passive: true });
  addEventListener('pagehide', leave);
  addEventListener('pageshow', (event) => {
    if (event.persisted) void askForPlan();
  });
  watchRoutes(turnPage);
  const forms = watchForms(
    () => plan?.forms ?? [],
    (source, fields) => signals.report({ form: { source, fields } }),
    (found) => signals.report({ found }),
    openPending(memory.mayStore),
  );
  watchBaskets(
    () => plan?.baskets ?? [],
    (data) => signals.report({ track: { name: 'basket', data } }),
  );
  addEventListener('message', (event) => {
    if (stage && event.origin === desk && event.data?.outcry === 'stage') void askForPlan();
  });
  setInterval(() => {
    if (!document.hidden && plan?.counted) signals.add('alive');
  }, ALIVE_EVERY_MS);

  function take(command: Command) {
    switch (command[0]) {
      case 'page':
        return turnPage();
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
        if (command[1] === true) void askForPlan();
        else memory.allow(false);
    }
  }
  const early = window.outcry;
  window.outcry = {
    push: take,
    track: (event, data) => take(['track', event, data]),
    identify: (data, signature) => take(['identify', data, signature]),
    consent: (agreed) => take(['consent', agreed]),
    hold: (what, open) => take(['hold', what, open]),
  };
  if (Array.isArray(early)) for (const command of early) take(command);

  if (document.readyState === 'loading') addEventListener('DOMContentLoaded', askForPlan);
  else void askForPlan();
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
  more ??= import(/* @vite-ignore */ address).then(
    (loaded: { open(pieces: Kit): More }) => loaded.open(kit),
    () => undefined,
  );
  return more;
}

/** Tells of route changes of single-page applications, which no event announces. */
function watchRoutes(turned: () => void) {
  for (const name of ['pushState', 'replaceState'] as const) {
    const original = history[name];
    history[name] = function (...args: Parameters<History['pushState']>) {
      original.apply(this, args);
      turned();
    };
  }
  addEventListener('popstate', turned);
}

// Pasted twice, or on a page that has no script element to be read: the first one runs, and nothing else happens.
const script = document.currentScript;
if (script instanceof HTMLScriptElement && !(window.outcry && 'hold' in window.outcry))
  try {
    begin(script);
  } catch {
    // Whatever this page is, it must not notice us.
  }
