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

async function openDocument(page) {
  await page.getByRole('button', { name: /^line \d+ of its document/ }).click();
  await page.getByRole('button', { name: /^to-kelp-4/ }).click();
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

async function shelf(page) {
  for (const name of ['With a second fibre', 'Kelp as a stub area']) {
    await page.getByRole('button', { name: 'Open or export' }).click();
    await page.getByRole('menuitem', { name: /The shelf/ }).click();
    await page.getByLabel('Name of the variant').fill(name);
    await page.getByRole('button', { name: 'Duplicate as variant' }).click();
    await wait(page);
  }
  await type('set area-type stub on area 10')(page);
  await page.keyboard.press('Enter');
  await wait(page);
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Open or export' }).click();
  await page.getByRole('menuitem', { name: /The shelf/ }).click();
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

/** The form of an expectation, filled in. */
async function expectation(page) {
  await page.getByRole('button', { name: /say what the network is for|expect something more/ }).click();
  await page.getByLabel('in words').fill('the slipway reaches the archive');
  await page.getByLabel('from the address').fill('10.97.66.50');
  await page.getByLabel('to the address').fill('10.97.12.20');
  await page.getByLabel('when').selectOption('any-link');
  await wait(page);
}

const pictures = [
  ['layout', '/'],
  ['neighbours', '/?stage=neighbours&pair=kelp-1%2Fto-kelp-4~kelp-4%2Fto-kelp-1'],
  ['routes', '/?stage=routes&router=kelp-3', 'text=10.97.64.0/18'],
  ['failures', '/?stage=failures&fail=router:tidepool-1&fail=link:beacon-1/to-beacon-2'],
  ['every-cut', '/?stage=failures', 'text=Try every link'],
  ['layout-night', '/?router=drydock-2'],
  ['accepting', '/?stage=layout&router=drydock-4', 'text=Accept as it is…'],
  ['layout-16', '/', [16, 2]],
  ['layout-60', '/', [60, 5]],
  ['layout-300', '/', [300, 12]],
  ['tables', '/?table=interfaces', typeOver],
  ['worksheet', '/?router=kelp-1', 'text=Worksheet'],
  ['quick-entry', '/', type('link kelp-1 drydock-2 cost 20')],
  ['document', '/?router=kelp-1', openDocument],
  ['changes', '/?stage=changes', changed],
  ['shelf', '/', shelf],
  ['blueprint', '/', blueprint],
  ['expectation', '/', expectation],
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
