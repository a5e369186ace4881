// A headless browser driven by its own debugging protocol, for what ChromeDriver does not give: its own counters of work.
// Run with `node --experimental-websocket`.
import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const ARGS = ['--headless=new', '--no-sandbox', '--disable-gpu', '--disable-dev-shm-usage', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync', '--window-size=1280,800', '--remote-debugging-port=0', '--user-agent=Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/156.0.0.0 Safari/537.36'];

const IS_SHOWN = "!!document.querySelector('outcry-callouts')?.shadowRoot.querySelector('[data-id]')";
const SHIFT = `new PerformanceObserver((list) => {
  for (const e of list.getEntries()) if (!e.hadRecentInput) window.shifted = (window.shifted ?? 0) + e.value;
}).observe({ type: 'layout-shift', buffered: true })`;

/**
 * Starts a browser. `view` opens an address as a new visitor and gives the browser's counters `stayMs` after its load, in
 * milliseconds; requests that match `refused` are not sent.
 */
export async function openBrowserOfCounters() {
  const profile = mkdtempSync(join(tmpdir(), 'outcry-traces-'));
  const browser = spawn('/usr/bin/chromium', [...ARGS, `--user-data-dir=${profile}`, 'about:blank'], { stdio: ['ignore', 'ignore', 'pipe'] });
  const address = await new Promise((found, failed) => {
    let said = '';
    browser.stderr.on('data', (part) => {
      said += part;
      const at = /DevTools listening on (ws:\S+)/.exec(said)?.[1];
      if (at) found(at);
    });
    browser.on('exit', () => failed(new Error(`The browser did not start:\n${said}`)));
  });
  const socket = new WebSocket(address);
  await new Promise((open) => socket.addEventListener('open', open, { once: true }));
  const waiting = new Map();
  const heard = new Set();
  let calls = 0;
  socket.addEventListener('message', ({ data }) => {
    const message = JSON.parse(data);
    const { resolve, reject } = waiting.get(message.id) ?? {};
    waiting.delete(message.id);
    if (message.error) reject?.(new Error(message.error.message));
    else resolve?.(message.result);
    for (const hear of heard) hear(message);
  });
  const call = (method, params = {}, sessionId = undefined) =>
    new Promise((resolve, reject) => {
      const id = ++calls;
      waiting.set(id, { resolve, reject });
      socket.send(JSON.stringify({ id, method, params, sessionId }));
    });
  const once = (method, sessionId = undefined) =>
    new Promise((resolve) => {
      const hear = (message) => {
        if (message.method !== method || message.sessionId !== sessionId) return;
        heard.delete(hear);
        resolve(message.params);
      };
      heard.add(hear);
    });

  return {
    async view(url, stayMs, refused) {
      const { browserContextId } = await call('Target.createBrowserContext');
      const { targetId } = await call('Target.createTarget', { url: 'about:blank', browserContextId });
      const { sessionId } = await call('Target.attachToTarget', { targetId, flatten: true });
      await call('Page.enable', {}, sessionId);
      await call('Network.enable', {}, sessionId);
      await call('Network.setBlockedURLs', { urls: refused }, sessionId);
      await call('Performance.enable', { timeDomain: 'threadTicks' }, sessionId);
      await call('Page.addScriptToEvaluateOnNewDocument', { source: SHIFT }, sessionId);
      const loaded = once('Page.loadEventFired', sessionId);
      await call('Page.navigate', { url }, sessionId);
      await loaded;
      await new Promise((wait) => setTimeout(wait, stayMs));
      const { metrics } = await call('Performance.getMetrics', {}, sessionId);
      const read = async (expression) => (await call('Runtime.evaluate', { expression, returnByValue: true }, sessionId)).result.value;
      const view = Object.fromEntries(metrics.map(({ name, value }) => [name, value * 1000]));
      const said = { isShown: await read(IS_SHOWN), shift: await read('window.shifted ?? 0') };
      await call('Target.disposeBrowserContext', { browserContextId });
      return { ...view, ...said };
    },
    async end() {
      const gone = new Promise((resolve) => browser.on('exit', resolve));
      await call('Browser.close').catch(() => browser.kill());
      await gone;
      rmSync(profile, { recursive: true, force: true, maxRetries: 5 });
    },
  };
}
