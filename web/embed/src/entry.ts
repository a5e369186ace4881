import { fillVisitor, watchForms } from './dom/forms';
import { showMark } from './dom/mark';
import { openMemory, stageToken } from './dom/memory';
import { ask } from './dom/network';
import { type PageView, performPage } from './dom/pageView';
import { createSignals } from './dom/signals';
import { findPrivateLink, isStageToken } from './model/privateToken';
import type { LogEntry, PlanResponse } from './model/types';
import { createVisibleClock, type VisibleClock } from './model/visibleClock';

/** A sign of life this often keeps the visitor among those who are here now (counted over 60 s). */
const ALIVE_EVERY_MS = 25_000;

type Command = [name: 'visitor', tell: (id: string) => void] | [name: 'page'];

declare global {
  interface Window {
    outcry?: { push(command: Command): void } | Command[];
  }
}

function begin(script: HTMLScriptElement) {
  const desk = new URL(script.src).origin;
  const site = /\/o\/([^/]+)\.js/.exec(script.src)?.[1] ?? '';

  const link = findPrivateLink(location.hash);
  if (link) history.replaceState(history.state, '', location.pathname + location.search + link.rest);
  if (link && isStageToken(link.token)) stageToken.write(link.token);
  // Only in a frame can a page be a stage; a token left over in a tab of its own means nothing.
  const stage = window.parent === window ? undefined : stageToken.read();
  const memory = openMemory(site, stage !== undefined);
  if (link && !stage) memory.write({ memberToken: link.token });

  let plan: PlanResponse | undefined;
  let view: PageView | undefined;
  let clock: VisibleClock = createVisibleClock(() => performance.now(), !document.hidden);
  let asked = 0;
  const waitingForVisitor: ((id: string) => void)[] = [];

  const signals = createSignals(`${desk}/v/signals`, () =>
    plan && !stage ? { site, page: address, width: innerWidth, passport: plan.passport } : undefined,
  );
  let address = location.href;

  function note(callout: string, what: LogEntry['what']) {
    if (!stage) memory.write({ log: [...memory.read().log, { callout, what, at: Date.now() }].slice(-50) });
  }

  async function askForPlan() {
    const turn = ++asked;
    const { passport, memberToken, log } = memory.read();
    const answer = await ask<PlanResponse>(`${desk}/v/plan`, {
      site,
      page: address,
      width: innerWidth,
      passport,
      token: stage ?? memberToken,
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
    view?.leave();
    clock = createVisibleClock(() => performance.now(), !document.hidden);
    view = performPage(answer, clock, signals, note);
    if (answer.counted) signals.add('view');
    if (answer.mark) showMark(answer.mark);
    if (stage) parent.postMessage({ outcry: 'staged', note: answer.stage?.note }, desk);
    fillVisitor(answer.visitor);
    for (const tell of waitingForVisitor.splice(0)) tell(answer.visitor);
    view.run();
  }

  function leave() {
    view?.leave();
    view = undefined;
    if (plan?.counted) signals.add('left', undefined, clock.nowMs());
    signals.flush();
  }

  function turnPage() {
    if (location.href.split('#')[0] === address.split('#')[0]) return;
    leave();
    address = location.href;
    plan = undefined;
    void askForPlan();
  }

  addEventListener('visibilitychange', () => {
    clock.setVisible(!document.hidden);
    if (document.hidden) signals.flush();
    view?.run();
  });
  addEventListener('pagehide', leave);
  addEventListener('pageshow', (event) => {
    if (event.persisted) void askForPlan();
  });
  watchRoutes(turnPage);
  watchForms(() => plan?.forms ?? [], signals.form);
  addEventListener('message', (event) => {
    if (stage && event.origin === desk && event.data?.outcry === 'stage') void askForPlan();
  });
  setInterval(() => {
    if (!document.hidden && plan?.counted) signals.add('alive');
  }, ALIVE_EVERY_MS);

  function take(command: Command) {
    if (command[0] === 'page') turnPage();
    else if (command[0] === 'visitor') {
      if (plan) command[1](plan.visitor);
      else waitingForVisitor.push(command[1]);
    }
  }
  const early = Array.isArray(window.outcry) ? window.outcry : [];
  window.outcry = { push: take };
  for (const command of early) take(command);

  if (document.readyState === 'loading') addEventListener('DOMContentLoaded', () => void askForPlan());
  else void askForPlan();
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
if (script instanceof HTMLScriptElement && !(window.outcry && 'push' in window.outcry && !Array.isArray(window.outcry)))
  try {
    begin(script);
  } catch {
    // Whatever this page is, it must not notice us.
  }
