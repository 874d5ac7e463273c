// Takes the pictures in docs/screenshots/ from the running application: npm start, then node scripts/pictures.mjs
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import { root } from './install.mjs';

const base = process.env.BASE ?? 'http://localhost:4310';
const pictures = [
  ['layout', '/'],
  ['neighbours', '/?stage=neighbours&pair=kelp-1%2Fto-kelp-4~kelp-4%2Fto-kelp-1'],
  ['routes', '/?stage=routes&router=kelp-3', 'text=10.97.64.0/18'],
  ['failures', '/?stage=failures&fail=router:tidepool-1&fail=link:beacon-1/to-beacon-2'],
  ['every-cut', '/?stage=failures', 'text=Try every link'],
  ['layout-night', '/?router=drydock-2'],
  ['accepting', '/?stage=layout&router=drydock-4', 'text=Accept as it is…'],
  ['layout-300', '/', 300],
];

const browser = await chromium.launch({
  executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ],
});
for (const [name, url, click] of pictures) {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, colorScheme: name.endsWith('night') ? 'dark' : 'light' });
  const page = await context.newPage();
  await page.goto(base + url);
  await page.getByText(/\d+ routers, \d+ areas/).waitFor();
  if (typeof click === 'number') {
    await page.getByRole('button', { name: 'Open or export' }).click();
    await page.getByRole('menuitem', { name: 'A made-up campus' }).click();
    await page.getByLabel('Routers').fill(String(click));
    await page.getByLabel('Areas').fill('12');
    await page.getByRole('button', { name: 'Make and open it' }).click();
    await page.getByText(`${click} routers, 13 areas`).waitFor();
  } else if (click) await page.locator(click).first().click();
  if (name === 'every-cut') await page.getByLabel('What each cut does').waitFor();
  await page.waitForTimeout(600);
  await page.screenshot({ path: join(root, 'docs/screenshots', `${name}.png`) });
  await context.close();
}
await browser.close();
