// Takes the pictures in docs/screenshots/ from the running application: npm start, then node scripts/pictures.mjs
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import { launchOptions } from './chromium.mjs';
import { root } from './install.mjs';

const base = process.env.BASE ?? 'http://localhost:4310';
const wait = (page) => page.waitForTimeout(900);

/** Types a line of quick entry and leaves it standing. */
function type(line) {
  return async (page) => {
    await page.keyboard.press('/');
    await page.getByRole('combobox', { name: 'A line that changes the design' }).waitFor();
    await page.keyboard.type(line);
    await wait(page);
  };
}

/** How a pair comes up, and where it sticks. */
async function stuck(page) {
  await page.locator('[data-step="sticks"]').waitFor();
  await wait(page);
}

/** A leader lost and back, and one that is expected to lead. */
async function played(page) {
  await page.getByRole('button', { name: 'Expect it to lead' }).click();
  await page.getByTestId('breaking-order').waitFor();
  await page.getByRole('button', { name: /lost and back/ }).click();
  await page.getByTestId('play-effect').waitFor();
  await wait(page);
}

async function changed(page) {
  await page.getByLabel('Name of this version').fill('Before the review');
  await page.getByRole('button', { name: 'Keep this state' }).click();
  for (const line of ['set dead 40 on kelp-4/to-kelp-1', 'set area-type totally-stubby on area 30', 'link petrel-3 petrel-2 cost 20']) {
    await type(line)(page);
    await page.keyboard.press('Enter');
    await wait(page);
    await page.keyboard.press('Escape');
  }
  await page.getByRole('button', { name: 'compare', exact: true }).click();
  await page.getByRole('heading', { name: /^Now, compared with/ }).waitFor();
  await wait(page);
}

async function blueprint(page) {
  await page.getByRole('button', { name: 'Open or export' }).click();
  await page.getByRole('menuitem', { name: 'An empty design' }).click();
  await page.getByRole('button', { name: 'Lay a campus out' }).click();
  for (let i = 0; i < 3; i++) await page.getByRole('button', { name: 'Add an area' }).click();
  await page.getByText(/routers come/).waitFor();
  await wait(page);
}

async function typeOver(page) {
  await page.getByLabel('Narrow the table').fill('kelp');
  await page
    .getByRole('row', { name: /^kelp-1 to-kelp-3 / })
    .getByRole('gridcell')
    .nth(5)
    .click();
  await page.keyboard.type('35');
  await wait(page);
}

/** The first form of the prefix that is followed. */
async function follow(page) {
  await page.getByLabel('How far it goes').locator('[data-area] button').first().click();
  await wait(page);
}

/** A cell that is marked. */
async function marked(page) {
  await page.getByRole('grid', { name: 'Who reaches whom' }).focus();
  for (const key of ['ArrowDown', ...new Array(9).fill('ArrowDown'), ...new Array(5).fill('ArrowRight')]) await page.keyboard.press(key);
  await wait(page);
}

/** The sample after its review, with what it is for, and an edit that breaks some of it. */
async function expected(page) {
  await page.getByRole('button', { name: /Open or export/ }).click();
  await page.getByRole('menuitem', { name: 'Sample: Saltmarsh Point', exact: true }).click();
  await page.getByText('no errors').waitFor();
  for (const line of [
    'group "labs" of kelp-3 kelp-4 kelp-5 10.97.8.0/21',
    'expect "the labs reach the slipway, whatever link fails" reach labs 10.97.66.50 under any-link',
    'expect "drydock-1 leads the slipway" leader drydock-1/slipway',
    'expect "no external prefix among the tidepools" no-external 30',
    'expect "two exits from the kelps" session kelp-4 harbour-exit under any-router',
    'expect "the archive is three routers away" path kelp-3 10.97.12.20 hops 3 symmetric',
    'delete link kelp-4 kelp-2',
  ]) {
    await type(line)(page);
    await page.keyboard.press('Enter');
    await wait(page);
    await page.keyboard.press('Escape');
  }
  await page.getByRole('button', { name: 'Close', exact: true }).click();
  await page.getByTestId('broken-since').waitFor();
  await wait(page);
}

/** Two summaries of the planner, laid. */
async function planned(page) {
  await page.getByRole('button', { name: /^2 summaries/ }).click();
  await wait(page);
}

/** Every single failure tried, and one of them chosen. */
async function swept(page) {
  await page.getByText(/cases tried/).waitFor();
  await page.getByRole('table', { name: 'Every failure, the worst first' }).getByText('kelp-4', { exact: true }).first().click();
  await wait(page);
}

/** What links would carry at worst, when the labs send much towards the exit. */
async function loaded(page) {
  const from = ['kelp-3', 'kelp-4', 'kelp-5', 'drydock-3', 'drydock-4', 'tidepool-3', 'petrel-1'];
  const buffer = Buffer.from(['from,to,mbps', ...from.map((r) => `${r},harbour-exit,3600`)].join('\n'));
  await page.getByLabel('Table of demands').setInputFiles({ name: 'demands.csv', mimeType: 'text/csv', buffer });
  await page.getByRole('button', { name: 'Try every failure' }).click();
  await page.getByText(/whatever one thing fails/).waitFor();
  await page.getByRole('table').getByRole('row').nth(1).click();
  await wait(page);
}

/** The second pair that is followed, while its packets go round. */
async function inLoop(page) {
  await page.getByTestId('verdict').getByText('new after').waitFor();
  await page.getByLabel('Packets that are followed', { exact: true }).getByRole('button').nth(1).click();
  await page.getByRole('slider', { name: 'Moment' }).focus();
  for (let i = 0; i < 60; i++) {
    await page.keyboard.press('ArrowRight');
    await page.waitForTimeout(120);
    if (/ loops/.test(await page.getByTestId('moment').innerText())) break;
  }
  for (let i = 0; i < 3; i++) await page.keyboard.press('ArrowRight');
  await wait(page);
}

const pictures = [
  ['layout', '/'],
  ['neighbours', '/?stage=neighbours&pair=kelp-1%2Fto-kelp-4~kelp-4%2Fto-kelp-1'],
  ['coming-up', '/?stage=neighbours&face=up&pair=drydock-2%2Fto-drydock-4~drydock-4%2Fto-drydock-2', stuck],
  ['leading', '/?stage=neighbours&meet=leading', played],
  ['areas', '/?stage=areas'],
  ['reach', '/?stage=areas&show=reach&prefix=10.97.8.0%2F24', follow],
  ['summaries', '/?stage=summaries&area=20', planned],
  ['routes', '/?stage=routes&router=kelp-3&prefix=10.97.64.0%2F18'],
  ['trace', '/?stage=routes&look=trace&from=tidepool-3&to=10.97.12.20'],
  ['matrix', '/?stage=routes&look=matrix', marked],
  ['expected', '/?stage=routes&look=expected', expected],
  ['failures', '/?stage=failures&fail=router:tidepool-1&fail=link:beacon-1/to-beacon-2'],
  ['every-failure', '/?stage=failures&tell=every', swept],
  ['reconvergence', '/?stage=failures&tell=time&fail=link:beacon-1/to-kelp-1&router=kelp-3', inLoop],
  ['load', '/?stage=failures&tell=load', loaded],
  ['tables', '/?table=interfaces', typeOver],
  ['quick-entry', '/', type('link kelp-1 drydock-2 cost 20')],
  ['changes', '/?stage=changes', changed],
  ['blueprint', '/', blueprint],
];

const browser = await chromium.launch(launchOptions);
for (const [name, url, click] of pictures) {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, colorScheme: name.endsWith('night') ? 'dark' : 'light' });
  const page = await context.newPage();
  await page.goto(base + url);
  await page.getByText(/\d+ routers, \d+ areas/).waitFor();
  if (Array.isArray(click)) {
    const [routers, areas] = click;
    await page.getByRole('button', { name: 'Open or export' }).click();
    await page.getByRole('menuitem', { name: 'A made-up campus' }).click();
    await page.getByRole('dialog').getByLabel('Routers').fill(String(routers));
    await page.getByRole('dialog').getByLabel('Areas').fill(String(areas));
    await page.getByRole('button', { name: 'Make and open it' }).click();
    await page.getByText(`${routers} routers, ${areas + 1} areas`).waitFor();
  } else if (typeof click === 'function') await click(page);
  else if (click) await page.locator(click).first().click();
  if (name === 'every-cut') await page.getByLabel('What each cut does').waitFor();
  await page.waitForTimeout(600);
  await page.screenshot({ path: join(root, 'docs/screenshots', `${name}.png`) });
  await context.close();
}
await browser.close();
