// What the snippet costs a page: work on its main thread and shift of its layout, by the browser's own traces, against the
// same page with an empty script in its place, fetched by the same kind of tag: a tag that defers changes when the browser
// itself first lays a page out, which has nothing to do with what the script does.
import { appendFileSync, readFileSync } from 'node:fs';
import { openTraced } from './chromium-traces.mjs';

const [statusFile, file] = process.argv.slice(2);
const { site } = JSON.parse(readFileSync(statusFile, 'utf8'));
const ROUNDS = 9;
// On arrival nothing has appeared yet; the first slip of a new visitor comes after six seconds and is drawn by the ninth.
const ARRIVAL_MS = 2_000;
const SHOWN_MS = 9_000;
const CATEGORIES = 'devtools.timeline,disabled-by-default-devtools.timeline,loading,__metadata';
const IS_SHOWN = "!!document.querySelector('outcry-callouts')?.shadowRoot.querySelector('[data-id]')";
const sorted = (values) => [...values].sort((a, b) => a - b);
const quantile = (values, part) => sorted(values)[Math.round((values.length - 1) * part)];
const median = (values) => quantile(values, 0.5);

// Tasks of the main thread that drew the page, those in which the snippet itself ran, and how far the layout shifted.
function read(events, url, stayMs) {
  events.sort((a, b) => a.ts - b.ts);
  const begun = events.find((e) => e.name === 'ParseHTML' && e.args?.beginData?.url === url);
  if (!begun) throw new Error('The trace does not hold the page.');
  const until = begun.ts + 1000 * stayMs;
  const mine = events.filter((e) => e.pid === begun.pid && e.tid === begun.tid && e.ts < until && e.ts + (e.dur ?? 0) > begun.ts);
  const tasks = mine.filter((e) => e.name === 'RunTask');
  const runs = mine.filter((e) => (e.name === 'EvaluateScript' || e.name === 'FunctionCall') && /\/o\/(more\/)?\w+\.js/.test(e.args?.data?.url ?? ''));
  const ms = (some) => some.reduce((sum, e) => sum + (e.dur ?? 0), 0) / 1000;
  const outer = runs.filter((e) => !runs.some((o) => o !== e && o.ts <= e.ts && o.ts + o.dur >= e.ts + e.dur));
  const shifts = events.filter((e) => e.name === 'LayoutShift' && e.pid === begun.pid && e.ts > begun.ts && !e.args?.data?.had_recent_input);
  return { ms: ms(tasks), script: ms(outer), shift: shifts.reduce((sum, e) => sum + (e.args?.data?.score ?? 0), 0) };
}

async function compare(browser, name, stayMs, shows) {
  const view = async (path) => {
    const { events, answer } = await browser.view(site + path, stayMs, CATEGORIES, IS_SHOWN);
    return { ...read(events, site + path, stayMs), isShown: answer };
  };
  // The browser's own start, and what it compiles of itself, are nobody's cost.
  await view('/shop');
  await view('/shop?without-snippet');
  const rounds = [];
  for (let i = 0; i < ROUNDS; i++) {
    const ours = await view('/shop');
    const bare = await view('/shop?without-snippet');
    if (ours.isShown !== shows || bare.isShown) throw new Error(`${name}: what was to be ${shows ? 'shown' : 'awaited'} was not.`);
    rounds.push([ours, bare]);
  }
  const more = rounds.map(([o, b]) => o.ms - b.ms);
  const script = rounds.map(([o]) => o.script);
  const put = (figure) => appendFileSync(file, `${JSON.stringify(figure)}\n`);
  put({
    name,
    value: median(rounds.map(([o]) => o.ms)),
    unit: 'ms of main thread',
    baseline: median(rounds.map(([, b]) => b.ms)),
    ratio: median(rounds.map(([o, b]) => o.ms / b.ms)),
    spread: `${median(more).toFixed(1)} ms more (quartiles ${quantile(more, 0.25).toFixed(1)} to ${quantile(more, 0.75).toFixed(1)}), ${median(script).toFixed(1)} ms of them in the snippet's own script (${quantile(script, 0.25).toFixed(1)} to ${quantile(script, 0.75).toFixed(1)}); ${ROUNDS} rounds of ${stayMs / 1000} s`,
  });
  put({
    name: `${name}-shift`,
    value: Math.max(...rounds.map(([o]) => o.shift)),
    unit: 'layout shift score, the greatest',
    baseline: Math.max(...rounds.map(([, b]) => b.shift)),
    ratio: null,
    spread: `read off ${ROUNDS} rounds`,
  });
}

const browser = await openTraced();
try {
  await compare(browser, 'snippet-main-thread', ARRIVAL_MS, false);
  await compare(browser, 'snippet-main-thread-shown', SHOWN_MS, true);
} finally {
  await browser.end();
}
