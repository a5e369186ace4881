// What the snippet costs a page: work on its main thread and shift of its layout, by the browser's own traces, against the
// same page with an empty deferred script in the snippet's place.
import { appendFileSync, readFileSync } from 'node:fs';
import { openBrowser } from './webdriver.mjs';

const [statusFile, file] = process.argv.slice(2);
const { site } = JSON.parse(readFileSync(statusFile, 'utf8'));
const ROUNDS = 15;
// On arrival nothing has appeared yet; the first slip of a new visitor comes after six seconds and is drawn by the tenth.
const ARRIVAL_MS = 3_000;
const SHOWN_MS = 10_000;
const CATEGORIES = 'devtools.timeline,disabled-by-default-devtools.timeline,loading,__metadata';
const median = (values) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];

// A browser of its own for each page view: a new visitor, with nothing kept or compiled from before.
async function view(url, stayMs) {
  const browser = await openBrowser({ traces: CATEGORIES });
  try {
    await browser.go(url);
    await browser.pause(stayMs);
    const isShown = await browser.run("return !!document.querySelector('outcry-callouts')?.shadowRoot.querySelector('[data-id]')");
    await browser.go('about:blank');
    return { ...read(await browser.trace(), site), isShown };
  } finally {
    await browser.end();
  }
}

// Tasks of the main thread that drew the page, and how far its layout shifted without anybody's doing.
function read(events, origin) {
  const begun = events.find((e) => e.name === 'ParseHTML' && e.args?.beginData?.url?.startsWith(origin));
  if (!begun) throw new Error('The trace does not hold the page.');
  const mine = events.filter((e) => e.pid === begun.pid && e.tid === begun.tid && e.ts >= begun.ts);
  const until = mine.find((e) => e.name === 'CommitLoad' && e.args?.data?.url === 'about:blank')?.ts ?? Number.POSITIVE_INFINITY;
  const busyUs = mine.filter((e) => e.name === 'RunTask' && e.ts < until).reduce((sum, e) => sum + (e.dur ?? 0), 0);
  const shift = events
    .filter((e) => e.name === 'LayoutShift' && e.pid === begun.pid && !e.args?.data?.had_recent_input)
    .reduce((sum, e) => sum + (e.args?.data?.score ?? 0), 0);
  return { ms: busyUs / 1000, shift };
}

async function compare(name, stayMs, shows) {
  const rounds = [];
  for (let i = 0; i < ROUNDS; i++) {
    const ours = await view(`${site}/shop`, stayMs);
    const bare = await view(`${site}/shop?without-snippet`, stayMs);
    if (ours.isShown !== shows || bare.isShown) throw new Error(`${name}: what was to be ${shows ? 'shown' : 'awaited'} was not.`);
    rounds.push([ours, bare]);
  }
  const more = rounds.map(([o, b]) => o.ms - b.ms);
  const quartile = (part) => [...more].sort((a, b) => a - b)[Math.floor((more.length - 1) * part)].toFixed(1);
  const put = (figure) => appendFileSync(file, `${JSON.stringify(figure)}\n`);
  put({
    name,
    value: median(rounds.map(([o]) => o.ms)),
    unit: 'main-thread milliseconds',
    baseline: median(rounds.map(([, b]) => b.ms)),
    ratio: median(rounds.map(([o, b]) => o.ms / b.ms)),
    spread: `${median(more).toFixed(1)} ms more (quartiles ${quartile(0.25)} to ${quartile(0.75)}) over ${ROUNDS} rounds of ${stayMs / 1000} s`,
  });
  put({
    name: `${name}-shift`,
    value: Math.max(...rounds.map(([o]) => o.shift)),
    unit: 'layout shift score, the greatest',
    baseline: Math.max(...rounds.map(([, b]) => b.shift)),
    ratio: null,
    spread: `counted over ${ROUNDS} rounds`,
  });
}

await compare('snippet-main-thread', ARRIVAL_MS, false);
await compare('snippet-main-thread-shown', SHOWN_MS, true);
