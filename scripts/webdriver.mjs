// A few calls of the W3C WebDriver protocol: enough to open pages, click, type and take pictures.
import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const ELEMENT = 'element-6066-11e4-a52e-4f735466cecf';

/** Starts ChromeDriver and one headless browser; `end` closes both. */
export async function openBrowser({ width = 1280, height = 800 } = {}) {
  const port = 20_000 + (process.pid % 20_000);
  const driver = spawn('chromedriver', [`--port=${port}`], { stdio: 'ignore' });
  const profile = mkdtempSync(join(tmpdir(), 'outcry-shots-'));
  const call = async (method, path, body) => {
    const answer = await fetch(`http://127.0.0.1:${port}${path}`, { method, body: body === undefined ? undefined : JSON.stringify(body) });
    const { value } = await answer.json();
    if (!answer.ok) throw new Error(`${path}: ${value?.message}`);
    return value;
  };
  for (let i = 0; i < 50; i++) {
    try {
      if ((await call('GET', '/status')).ready) break;
    } catch {
      await new Promise((wait) => setTimeout(wait, 100));
    }
  }
  const args = ['--headless=new', '--no-sandbox', '--disable-gpu', '--disable-dev-shm-usage', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync', '--hide-scrollbars', '--blink-settings=primaryHoverType=2,availableHoverTypes=2,primaryPointerType=4,availablePointerTypes=4', '--user-agent=Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/156.0.0.0 Safari/537.36', '--force-device-scale-factor=1', `--user-data-dir=${profile}`];
  const { sessionId } = await call('POST', '/session', { capabilities: { alwaysMatch: { 'goog:chromeOptions': { args, binary: '/usr/bin/chromium' }, 'goog:loggingPrefs': { browser: 'ALL' } } } });
  const at = `/session/${sessionId}`;
  const run = (script, ...values) => call('POST', `${at}/execute/sync`, { script, args: values });
  const cdp = (cmd, params) => call('POST', `${at}/goog/cdp/execute`, { cmd, params });
  const resize = (w, h) => cdp('Emulation.setDeviceMetricsOverride', { width: w, height: h, deviceScaleFactor: 1, mobile: false });
  await resize(width, height);
  const find = async (css, tries = 50) => {
    for (let i = 0; ; i++) {
      try {
        return (await call('POST', `${at}/element`, { using: css.startsWith('//') ? 'xpath' : 'css selector', value: css }))[ELEMENT];
      } catch (missing) {
        if (i >= tries) throw missing;
        await new Promise((wait) => setTimeout(wait, 100));
      }
    }
  };
  return {
    run,
    cdp,
    resize,
    find,
    go: (url) => call('POST', `${at}/url`, { url }),
    click: async (css) => call('POST', `${at}/element/${await find(css)}/click`, {}),
    type: async (css, text) => call('POST', `${at}/element/${await find(css)}/value`, { text }),
    log: () => call('POST', `${at}/se/log`, { type: 'browser' }),
    pause: (ms) => new Promise((wait) => setTimeout(wait, ms)),
    shot: async (file) => writeFileSync(file, Buffer.from(await call('GET', `${at}/screenshot`), 'base64')),
    end: async () => {
      await call('DELETE', at).catch(() => undefined);
      driver.kill();
      rmSync(profile, { recursive: true, force: true });
    },
  };
}

/** Signs a member of the demo in. */
export async function signIn(browser, desk, { email, password }) {
  await browser.go(`${desk}/`);
  await browser.type('input[name=email]', email);
  await browser.type('input[name=password]', password);
  await browser.click('button[type=submit]');
  await browser.find('nav[aria-label=Sections]');
}
