// One walk in Firefox: node firefox_walk.mjs ADDRESS SESSION BOOK FIREFOX. Types a row, goes without the server, comes back, looks at every station.
// Prints what it has seen as JSON; what goes wrong ends it with a message.
import { createRequire } from 'node:module';

const require = createRequire(new URL('../../web/package.json', import.meta.url));
const puppeteer = require('puppeteer-core');
const [address, session, book, firefox] = process.argv.slice(2);
const host = new URL(address).hostname;

const browser = await puppeteer.launch({ browser: 'firefox', executablePath: firefox, headless: true });
const troubles = [];
try {
  const page = await browser.newPage();
  page.setDefaultTimeout(20_000);
  page.on('pageerror', (error) => troubles.push(String(error)));
  await page.setViewport({ width: 1280, height: 800 });
  await browser.setCookie({ name: 'sessionid', value: session, domain: host, path: '/' });
  await page.goto(`${address}/books/${book}/read`);
  const cell = (row, column) => `input[data-at="${row}:${column}"]`;
  const says = (words) => page.waitForFunction((w) => [...document.querySelectorAll('[role=status]')].some((s) => s.textContent.includes(w)), {}, words);
  await page.waitForSelector(cell(0, 0));
  await page.click(cell(0, 0));
  for (const text of ['0.300', '2.01', '2.02', '2.00']) {
    await page.keyboard.type(text);
    await page.keyboard.press('Tab');
  }
  await says('saved');
  // the mean of the row is there
  await page.waitForFunction(() => document.querySelectorAll('td.ruled-mean button').length > 0);
  const mean = await page.$eval('td.ruled-mean button', (b) => b.textContent);
  // without the server, a reading waits on the device, and is there again after a reload
  await page.setOfflineMode(true).catch(() => page.evaluate(() => (window.fetch = () => Promise.reject(new TypeError('no network')))));
  await page.click(cell(1, 0));
  await page.keyboard.type('0.400');
  await page.keyboard.press('Enter');
  await says('waiting');
  await page.setOfflineMode(false).catch(() => undefined);
  await page.reload();
  await page.waitForSelector(cell(1, 0));
  await says('saved');
  const kept = await page.$eval(cell(1, 0), (input) => input.value);
  const stations = [];
  for (const stage of ['ask', 'average', 'look', 'straighten', 'fit', 'find', 'pool', 'report']) {
    await page.evaluate((s) => document.querySelector(`.trail a[href$="/${s}"]`).click(), stage);
    await page.waitForFunction((s) => location.pathname.endsWith(`/${s}`) && document.querySelector('main h1, main .notice'), {}, stage);
    stations.push([stage, await page.$eval('main', (main) => main.textContent.includes('stopped'))]);
  }
  console.log(JSON.stringify({ mean, kept, stations, troubles }));
} finally {
  await browser.close();
}
