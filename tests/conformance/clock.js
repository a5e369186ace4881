// A clock that stands still until it is told to move on, put into the page before any script of its own runs.
// Timers run in the order of their times; what hangs on the network is waited for in real time, with the clock at rest.
(() => {
  const real = { setTimeout: setTimeout.bind(window), fetch: fetch.bind(window) };
  const base = /*BASE*/ 0;
  const setting = /*SETTING*/ {};
  let now = 0;
  let ids = 0;
  let pending = 0;
  const timers = new Map();
  const add = (run, ms, every) => {
    timers.set(++ids, { run, at: now + Math.max(0, ms || 0), every, order: ids });
    return ids;
  };
  window.setTimeout = (run, ms, ...args) => add(() => run(...args), ms);
  window.setInterval = (run, ms, ...args) => add(() => run(...args), ms, Math.max(1, ms || 1));
  window.clearTimeout = window.clearInterval = (id) => timers.delete(id);
  performance.now = () => now;
  const RealDate = Date;
  window.Date = class extends RealDate {
    constructor(...args) {
      super(...(args.length === 0 ? [base + now] : args));
    }
    static now = () => base + now;
  };
  const media = window.matchMedia.bind(window);
  window.matchMedia = (query) => (query === '(hover: none)' ? { matches: !!setting.touch } : media(query));
  window.fetch = async (...args) => {
    pending++;
    try {
      const answer = await real.fetch(...args);
      const text = await answer.text();
      // What draws is there when it is wanted, as from the browser's own store: it comes while the clock is at rest.
      const desk = new URL(args[0]).origin;
      for (const [, path] of text.matchAll(/"(?:draw|shapes|script|panel)":"([^"]+)"/g)) await import(desk + path);
      return new Response(text, { status: answer.status });
    } finally {
      real.setTimeout(() => pending--);
    }
  };
  const rest = (ms = 0) => new Promise((done) => real.setTimeout(done, ms));
  const quiet = async () => {
    await rest();
    while (pending > 0) await rest(5);
    await rest();
  };

  const roots = () =>
    [...document.querySelectorAll('outcry-callouts, outcry-dialog, outcry-inset, outcry-launcher')].map((h) => h.shadowRoot);
  const shown = () => roots().flatMap((r) => [...r.querySelectorAll('[data-id]')]);
  const seen = [];
  let on = new Map();
  const look = () => {
    const next = new Map(shown().map((e) => [e, e.dataset.id]));
    for (const [element, id] of on) if (!next.has(element)) seen.push(['end', id, now]);
    for (const [element, id] of next) if (!on.has(element)) seen.push(['start', id, now]);
    on = next;
  };

  window.outcryClock = {
    seen,
    after: (ms) => rest(ms),
    find: (id) => shown().find((e) => e.dataset.id === id),
    /** Moves on to a time, timer by timer, noting what comes and goes. */
    async to(target) {
      await quiet();
      look();
      for (;;) {
        let next;
        for (const [id, timer] of timers)
          if (timer.at <= target && (!next || timer.at < next.timer.at || (timer.at === next.timer.at && timer.order < next.timer.order)))
            next = { id, timer };
        if (!next) break;
        now = Math.max(now, next.timer.at);
        if (next.timer.every) next.timer.at = now + next.timer.every;
        else timers.delete(next.id);
        next.timer.run();
        await quiet();
        look();
      }
      now = target;
      look();
    },
    /** Lets what was just done take effect, in real time, with the clock at rest. */
    async settle(ms = 0) {
      await rest(ms);
      await quiet();
      look();
    },
    /** What is still on screen, as the page is left. */
    left: () => [...on.values()],
  };

  // The snippet's own links would lead away; that they were clicked is all that counts.
  addEventListener(
    'click',
    (e) => e.composedPath().some((n) => n instanceof HTMLAnchorElement && n.getRootNode() !== document) && e.preventDefault(),
  );

  // What the scenarios speak of, in a page long enough to be scrolled.
  addEventListener('DOMContentLoaded', () => {
    const put = (html) => document.body.insertAdjacentHTML('beforeend', html);
    put('<div id="anchor">Here</div><button id="more" type="button">More</button><video id="clip"></video>');
    put('<div style="height:6000px"></div><div id="kiln" style="height:40px">The kiln</div><div style="height:3000px"></div>');
    put(`<div id="consent" data-outcry-consent ${setting.consent ? '' : 'hidden'} style="position:fixed;bottom:0">Cookies?</div>`);
    put(
      '<div id="chat" data-outcry-hold="chat" hidden style="position:fixed;bottom:0">Chat</div><dialog id="own">A dialog of the page</dialog>',
    );
    if (setting.full)
      put(
        '<div style="position:fixed;inset:0 0 52% 0"></div><div style="position:fixed;inset:52% 0 0 0"></div>'.replaceAll(
          '"></div>',
          ';pointer-events:auto"></div>',
        ),
      );
  });
})();
