// Two measures of the desk in a real browser on the demo: from a key in the composer to the stage's new picture, and frames
// while a block of the run sheet is dragged, beside the same pointer moving over the same sheet without dragging.
import { appendFileSync, readFileSync } from 'node:fs';
import { openBrowser, signIn } from './webdriver.mjs';

const [, , statusFile, lines] = process.argv;
const status = JSON.parse(readFileSync(statusFile, 'utf8'));
const KEYS = 9;
const ROUNDS = 5;
const MOVES = 60;
/** The composer waits this long after a key before it saves, so that a word is one save. */
const SAVE_AFTER_MS = 250;
/** A frame that took longer than this left one of 60 a second out. */
const LONG_FRAME_MS = 25;

const median = (values) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];
const put = (figure) => appendFileSync(lines, `${JSON.stringify(figure)}\n`);
const browser = await openBrowser();
try {
  await signIn(browser, status.desk, status.accounts[0]);
  await browser.go(`${status.desk}/callouts`);
  await browser.click('//td//a[contains(., "Bought a piece")]');
  await browser.click('[data-phrase="say.message"]');
  await browser.pause(4000);
  await browser.run(`
    addEventListener('input', () => { window.keyAt = performance.now(); window.stagedAfter = undefined; }, true);
    addEventListener('message', (e) => { if (e.data?.outcry === 'staged' && window.keyAt) window.stagedAfter = performance.now() - window.keyAt; });`);
  const waits = [];
  for (let i = 0; i < KEYS; i++) {
    await browser.type('textarea', i % 2 ? '!' : '.');
    for (let tries = 0; tries < 100; tries++) {
      await browser.pause(30);
      const after = await browser.run('return window.stagedAfter ?? null');
      if (after !== null) {
        waits.push(after);
        break;
      }
    }
  }
  if (waits.length < KEYS) throw new Error('The stage did not answer to every key.');
  put({
    name: 'composer-stage',
    value: median(waits),
    unit: 'ms from key to stage',
    baseline: SAVE_AFTER_MS,
    ratio: median(waits) / SAVE_AFTER_MS,
    spread: `${Math.round(Math.min(...waits))} to ${Math.round(Math.max(...waits))} over ${KEYS} keys; budget 500 ms; beside it the wait before saving`,
  });

  await browser.go(`${status.desk}/`);
  await browser.find('[data-cue]');
  await browser.pause(2000);
  const at = await browser.run(
    'const r = document.querySelector("[data-cue]").getBoundingClientRect(); return [r.left + 30, r.top + 10]',
  );
  const mouse = (type, x, buttons) =>
    browser.cdp('Input.dispatchMouseEvent', { type, x, y: at[1], button: buttons || type !== 'mouseMoved' ? 'left' : 'none', buttons, clickCount: type === 'mouseMoved' ? 0 : 1 });
  async function frames(drags) {
    await browser.run(`window.frames_ = []; let last; window.watching = true;
      const step = (now) => { if (last) window.frames_.push(now - last); last = now; if (window.watching) requestAnimationFrame(step); };
      requestAnimationFrame(step);`);
    await mouse('mouseMoved', at[0], 0);
    if (drags) await mouse('mousePressed', at[0], 1);
    for (let i = 0; i < MOVES; i++) await mouse('mouseMoved', at[0] + i * 3, drags ? 1 : 0);
    const measured = await browser.run('window.watching = false; return window.frames_');
    if (drags) {
      // Given up, so that the next round begins with the same sheet.
      await browser.cdp('Input.dispatchKeyEvent', { type: 'keyDown', key: 'Escape', code: 'Escape', windowsVirtualKeyCode: 27 });
      await mouse('mouseReleased', at[0], 0);
    }
    return { share: measured.filter((ms) => ms > LONG_FRAME_MS).length / measured.length, count: measured.length };
  }
  const dragging = [];
  const moving = [];
  for (let round = 0; round < ROUNDS; round++) {
    dragging.push(await frames(true));
    await browser.pause(300);
    moving.push(await frames(false));
    await browser.pause(300);
  }
  const share = (rounds) => median(rounds.map((r) => r.share * 100));
  put({
    name: 'run-sheet-drag',
    value: share(dragging),
    unit: '% of frames over 25 ms',
    baseline: share(moving),
    ratio: null,
    spread: `${Math.min(...dragging.map((r) => r.share * 100)).toFixed(1)} to ${Math.max(...dragging.map((r) => r.share * 100)).toFixed(1)} over ${ROUNDS} rounds of ${MOVES} moves, some ${median(dragging.map((r) => r.count))} frames each; beside it the pointer moving without dragging`,
  });
} finally {
  await browser.end();
}
