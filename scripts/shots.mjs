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
// A page that leaves writes down what it knows of its visitor, so the forgetting is done where no snippet runs.
const forgetVisitor = async () => {
  await browser.go(`${status.site}/site.css`);
  await browser.run('localStorage.clear()');
};
try {
  await browser.go(`${status.site}/shop`);
  await browser.pause(6500);
  await take('visitor-slip');
  for (const [page, wait, name] of [['/workshops', 5000, 'visitor-ribbon'], ['/studio', 14_000, 'visitor-drawer']]) {
    await forgetVisitor();
    await browser.go(status.site + page);
    await browser.pause(wait);
    await take(name);
  }
  await browser.go(`${status.site}/journal`);
  const article = await browser.run("return document.querySelector('main a[href^=\"/journal/\"]').href");
  await forgetVisitor();
  await browser.go(article);
  await browser.pause(1000);
  await browser.run('window.scrollTo(0, document.body.scrollHeight * 0.7)');
  await browser.find('outcry-dialog', 250);
  await take('visitor-poster');
  await signIn(browser, status.desk, status.accounts[0]);
  await browser.click('//li[3]//span[contains(., "Clash")]');
  await browser.find('aside h2');
  await browser.click('//aside//li//button[contains(., "wait")]');
  await browser.find('[aria-label="A change tried out"]');
  await take('run-sheet');
  const shop = { path: '/shop', staySeconds: 45, scrollPercent: 60, leaves: false, acts: [] };
  const kit = { path: '/shop/first-pot-kit', staySeconds: 40, scrollPercent: 80, leaves: true, acts: [] };
  const visitor = { visitNumber: 2, city: 'Cork', country: 'Ireland' };
  await browser.go(`${status.desk}/rehearsal?visitor=${encodeURIComponent(JSON.stringify(visitor))}&pages=${encodeURIComponent(JSON.stringify([shop, kit]))}`);
  await browser.click('//button[contains(., "Why not")]');
  await take('rehearsal');
  const trial = await browser.run(`const site = (await (await fetch('/api/sites')).json())[0].id;
    const { antiforgeryToken } = await (await fetch('/api/session')).json();
    const answer = await fetch('/api/sites/' + site + '/trials', { method: 'POST', headers: { 'content-type': 'application/json', 'X-Outcry-Antiforgery': antiforgeryToken }, body: JSON.stringify({ path: '/shop/first-pot-kit', visitor: arguments[0] }) });
    return (await answer.json()).address;`, visitor);
  await browser.go(trial);
  await browser.pause(6500);
  await take('trial-visit');
  await browser.go(`${status.desk}/audience`);
  await browser.click('//td//button[.="Back, bought nothing"]');
  await browser.find('aside h3');
  await browser.pause(1500);
  await take('audience');
  await browser.go(`${status.desk}/?panel=rules`);
  await browser.find('aside input[name=pattern]');
  await take('house-rules');
  await browser.go(`${status.desk}/callouts`);
  await browser.find('tbody tr');
  await take('callouts');
  await browser.click('//a[contains(., "Bought a piece")]');
  await browser.click('[data-phrase="where"]');
  await browser.find('iframe');
  await browser.pause(3000);
  await take('composer');
  await browser.click('//button[.="Done"]');
  await browser.click('[data-phrase="say.message"]');
  await browser.click('.sentence-block');
  await browser.pause(1500);
  await take('message');
  await browser.go(`${status.desk}/callouts`);
  await browser.click('//a[contains(., "The larger pieces")]');
  await browser.click('//button[.="Replay"]');
  await browser.find('//button[.="Replay again"]', 300);
  await browser.run(`const pane = [...document.querySelectorAll('[aria-label="Replay"]')].pop().parentElement; pane.scrollTo(0, pane.scrollHeight)`);
  await take('replay');
  await browser.go(`${status.desk}/ledger`);
  await browser.click('//*[@role="row"][contains(., "took home")]//button');
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
