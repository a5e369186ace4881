import { scrolled } from './core/acts';
import { readAddress, viewWidth, watchRoutes } from './core/address';
import { doc, on, quiet } from './core/bare';
import { type Calls, type Command, openAttributes, openCalls } from './core/calls';
import type { Launched } from './core/launcher';
import { openMemory, stageToken } from './core/memory';
import { ask } from './core/network';
import { type PageView, performPage } from './core/pageView';
import { findPrivateLink, kindOf } from './core/privateToken';
import type { Hold } from './core/queue';
import { createSignals } from './core/signals';
import type { Act } from './core/triggers';
import type { LogEntry, PlanResponse } from './core/types';
import { createVisibleClock, type VisibleClock } from './core/visibleClock';
import type { Heard, Listening } from './listen';
import { openParts } from './parts';

/** A sign of life this often keeps the visitor among those who are here now (counted over 60 s). */
const ALIVE_EVERY_MS = 25_000;

/** Events of the page's own that came before its plan are remembered up to this many. */
const MOST_EARLY = 20;

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
  /** What the page says is open; it goes for every page of a single-page application until the page says otherwise. */
  const saidOpen = new Set<Hold>();
  /** Events of this page view's own that came before there was a plan to count them. */
  let early: Act[] = [];
  const parts = openParts(desk);

  const signals = createSignals(`${desk}/v/signals`, () =>
    plan && !stage ? { site, page: address, width: viewWidth(), passport: plan.passport, gpc } : undefined,
  );
  const here = () => readAddress(!!stage);
  let address = here();
  let listening: Promise<Listening | undefined> | undefined;
  let launched: Promise<Launched | undefined> | undefined;
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
      isSaidOpen: (what) => saidOpen.has(what),
      loadDrawing: () => parts.drawing(answer),
      askIfThere: async () =>
        (await ask<{ there: boolean }>(`${desk}/v/there`, { site, page: address, launcher: answer.launcher?.id }))?.there ?? false,
    });
    if (answer.counted && !viewed) signals.add('view');
    viewed = true;
    if (answer.mark) parts.mark(answer, { site, page: address, token: stage }).catch(() => {});
    if (answer.launcher || launched) launched = parts.launch(answer, { site, page: here, signals });
    for (const tell of waitingForVisitor.splice(0)) tell(answer.visitor);
    for (const act of early.splice(0)) view.act(act);
    view.run();
    if (stage) return;
    signals.answered();
    listen();
    void listening?.then((it) => it?.look());
  }

  /** What watches forms and baskets, and looks for what the desk asks about, comes in a file of its own once a page needs it. */
  function listen() {
    if (listening || !plan || stage) return;
    if (!doc.querySelector('form,[data-outcry-visitor]') && plan.baskets.length === 0 && !plan.look && !memory.read().waits) return;
    const heard: Heard = {
      visitor: () => plan?.visitor ?? '',
      forms: () => plan?.forms ?? [],
      baskets: () => plan?.baskets ?? [],
      places: () => (plan?.counted && plan.look) || [],
      memory,
      report: signals.report,
      lay: signals.lay,
    };
    listening = parts.listen(plan, heard).then((it) => {
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
    early = [];
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

  function happen(act: Act) {
    if (view) view.act(act);
    else early = [...early, act].slice(-MOST_EARLY);
  }

  function take(command: Command) {
    switch (command[0]) {
      case 'page':
        return turnPage(true);
      case 'visitor':
        return plan ? command[1](plan.visitor) : waitingForVisitor.push(command[1]);
      case 'track':
        happen({ k: 'PageEvent', t: String(command[1]) });
        return signals.report({ track: { name: String(command[1]), data: command[2] } });
      case 'open':
        return launched?.then((it) => it?.open());
      case 'show':
        return happen({ k: 'PageEvent', t: command[1] });
      case 'identify':
        said = { known: true, attributes: openAttributes(command[1]) };
        return signals.report({ identify: { data: command[1], signature: command[2] } });
      case 'hold':
        saidOpen[command[2] === true ? 'add' : 'delete'](command[1]);
        return view?.hold(command[1]);
      case 'consent':
        memory.write({ agreed: command[1] === true });
        // The answer to the next question says whether anything may be kept; a no is carried out at once.
        if (command[1] === true) void askForPlan(!!plan).catch(() => {});
        else memory.allow(false);
    }
  }
  openCalls(quiet(take));

  // A page that is only fetched ahead is looked at when it is shown, if ever.
  if ('prerendering' in doc && doc.prerendering) doc.addEventListener('prerenderingchange', () => void start(), { once: true });
  else if (doc.readyState === 'loading') doc.addEventListener('DOMContentLoaded', () => void start());
  else void start();
}

const keyOf = ({ callout, what, at }: LogEntry) => at.toString(36) + what[0] + callout.slice(-4);

// Pasted twice, or on a page that has no script element to be read: the first one runs, and nothing else happens.
quiet(() => {
  const script = doc.currentScript;
  const before = window.outcry as Partial<Calls> | undefined;
  if (script instanceof HTMLScriptElement && !before?.hold) begin(script);
})();
