// What the snippet costs a page: work on its main thread by the browser's own counters, with its files fetched and with
// them refused, each page view by a visitor of its own; and shift of its layout. Refused requests are the browser's own
// doing, so that the page is the same one in both.
import { appendFileSync, readFileSync } from 'node:fs';
import { openBrowserOfCounters } from './chromium-counters.mjs';

const [statusFile, file] = process.argv.slice(2);
const { site } = JSON.parse(readFileSync(statusFile, 'utf8'));
const PAIRS = 15;
// On arrival nothing has appeared yet; the first slip of a new visitor comes after six seconds and is drawn by the ninth.
const ARRIVAL_MS = 2_000;
const SHOWN_MS = 9_000;
const COUNTED = ['ScriptDuration', 'LayoutDuration', 'RecalcStyleDuration'];
const quantile = (values, part) => [...values].sort((a, b) => a - b)[Math.round((values.length - 1) * part)];
const median = (values) => quantile(values, 0.5);
const sum = (view) => COUNTED.reduce((ms, name) => ms + view[name], 0);

async function compare(browser, name, stayMs, shows) {
  const view = (refused) => browser.view(`${site}/shop`, stayMs, refused ? ['*/o/*'] : []);
  // The browser's own start, and what it compiles of itself, are nobody's cost.
  await view(false);
  await view(true);
  const pairs = [];
  for (let i = 0; i < PAIRS; i++) {
    const [ours, bare] = i % 2 ? [await view(false), await view(true)] : [await view(true), await view(false)].reverse();
    if (ours.isShown !== shows || bare.isShown) throw new Error(`${name}: what was to be ${shows ? 'shown' : 'awaited'} was not.`);
    pairs.push([ours, bare]);
  }
  const more = (of) => pairs.map(([o, b]) => of(o) - of(b));
  const said = COUNTED.map((c) => `${c.replace('Duration', '')} ${median(more((v) => v[c])).toFixed(1)}`).join(', ');
  const total = more(sum);
  const put = (figure) => appendFileSync(file, `${JSON.stringify(figure)}\n`);
  put({
    name,
    value: median(pairs.map(([o]) => sum(o))),
    unit: 'ms of main thread',
    baseline: median(pairs.map(([, b]) => sum(b))),
    ratio: median(pairs.map(([o, b]) => sum(o) / sum(b))),
    spread: `${median(total).toFixed(1)} ms more (quartiles ${quantile(total, 0.25).toFixed(1)} to ${quantile(total, 0.75).toFixed(1)}): ${said}; ${PAIRS} pairs of ${stayMs / 1000} s`,
  });
  put({
    name: `${name}-shift`,
    value: Math.max(...pairs.map(([o]) => o.shift)),
    unit: 'layout shift score, the greatest',
    baseline: Math.max(...pairs.map(([, b]) => b.shift)),
    ratio: null,
    spread: `read off ${PAIRS} pairs`,
  });
}

const browser = await openBrowserOfCounters();
try {
  await compare(browser, 'snippet-main-thread', ARRIVAL_MS, false);
  await compare(browser, 'snippet-main-thread-shown', SHOWN_MS, true);
} finally {
  await browser.end();
}
