// One picture per main view, 1280x800, from the demo data.
import { readFileSync } from 'node:fs';
import { openBrowser, signIn } from './webdriver.mjs';

const status = JSON.parse(readFileSync(process.argv[2], 'utf8'));
const folder = 'docs/screenshots';
const browser = await openBrowser();
const take = async (name) => {
  await browser.pause(700);
  await browser.shot(`${folder}/${name}.png`);
  console.log(`${folder}/${name}.png`);
};
try {
  await browser.go(`${status.site}/shop`);
  await browser.pause(6500);
  await take('visitor-slip');
  for (const [page, wait, name] of [['/workshops', 5000, 'visitor-ribbon'], ['/studio', 14_000, 'visitor-drawer']]) {
    await browser.go(status.site + page);
    await browser.run('localStorage.clear()');
    await browser.go(status.site + page);
    await browser.pause(wait);
    await take(name);
  }
  await browser.go(`${status.site}/journal`);
  await browser.click('main a[href^="/journal/"]');
  await browser.run('localStorage.clear()');
  await browser.run('location.reload()');
  await browser.pause(1000);
  await browser.run('window.scrollTo(0, document.body.scrollHeight * 0.7)');
  await browser.find('outcry-dialog', 250);
  await take('visitor-poster');
  await signIn(browser, status.desk, status.accounts[0]);
  await browser.click('//li[3]//span[contains(., "Clash")]');
  await browser.find('aside h2');
  await take('run-sheet');
  await browser.go(`${status.desk}/?panel=rules`);
  await browser.find('aside textarea');
  await take('house-rules');
  await browser.go(`${status.desk}/callouts`);
  await browser.find('tbody tr');
  await take('callouts');
  await browser.click('//a[contains(., "Bought a piece")]');
  await browser.click('[data-phrase="where"]');
  await browser.find('iframe');
  await browser.pause(3000);
  await take('composer');
  await browser.go(`${status.desk}/callouts`);
  await browser.click('//a[contains(., "The larger pieces")]');
  await browser.click('//button[.="Replay"]');
  await browser.find('//button[.="Replay again"]', 300);
  await browser.run(`const pane = [...document.querySelectorAll('[aria-label="Replay"]')].pop().parentElement; pane.scrollTo(0, pane.scrollHeight)`);
  await take('replay');
  await browser.go(`${status.desk}/ledger`);
  await browser.click('//*[@role="row"][contains(., "bought")]//button');
  await browser.find('aside table');
  await take('ledger');
  await browser.click('//button[contains(., "Review list")]');
  await browser.click('//button[contains(., "Look at it")]');
  await browser.find('//p[contains(., "items there")]');
  await take('source');
  await browser.go(`${status.desk}/ledger?panel=import`);
  await browser.type('input[type=file]', new URL('../demo/spring-waitlist.csv', import.meta.url).pathname);
  await browser.find('//h3[contains(., "What stands in")]');
  await take('import');
  await browser.go(`${status.desk}/ledger?panel=care`);
  await browser.find('aside textarea');
  await take('care');
  await browser.go(`${status.desk}/install`);
  await browser.find('pre');
  await take('install');
} finally {
  await browser.end();
}
