import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { bring, openFresh, tableText } from './bench';

test('a seeded fault is found, repaired and undone; its routes return and go', async ({ page }) => {
  await openFresh(page);
  await expect(page.getByText(/before its review/).first()).toBeVisible();
  await page.getByRole('button', { name: /kelp-1 and kelp-4 stay apart/ }).click();
  await expect(page).toHaveURL(/stage=neighbours/);
  const pair = page.locator('[data-pair="kelp-1/to-kelp-4~kelp-4/to-kelp-1"]');
  await expect(pair.getByRole('row', { name: /dead interval/ })).toContainText('60 s');
  await page.goto('/?stage=routes&router=kelp-4');
  await expect(page.getByRole('table')).toBeVisible();
  const before = await tableText(page);
  await page.goto('/?stage=neighbours&pair=kelp-1%2Fto-kelp-4~kelp-4%2Fto-kelp-1');
  await pair.getByRole('button', { name: 'Set the dead interval of kelp-4 to 40 s' }).click();
  await expect(page.getByTestId('change-strip')).toContainText('2 neighbours gained');
  await expect(pair.getByText('full', { exact: true }).first()).toBeVisible();
  await page.getByRole('button', { name: /5\s*Routes/ }).click();
  await page
    .getByRole('list', { name: 'Routers' })
    .getByRole('button', { name: /kelp-4/ })
    .click();
  await expect(page.getByRole('heading', { name: 'Routes of kelp-4' })).toBeVisible();
  await expect(page.getByRole('row', { name: /10\.97\.0\.3\/32/ })).toContainText('40');
  const after = await tableText(page);
  expect(after).not.toEqual(before);
  await page.getByRole('banner').getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByTestId('change-strip')).toContainText('Undone');
  await expect.poll(() => tableText(page)).toEqual(before);
});

test('a route is explained down to the advertisement and the line of the document', async ({ page }) => {
  await openFresh(page, '/?stage=routes&router=harbour-exit');
  await page.getByLabel('Narrow the routes').fill('10.97.128');
  await page.getByRole('row', { name: /10\.97\.128\.0\/18/ }).click();
  const why = page.getByRole('complementary', { name: 'Why' });
  await expect(why).toContainText('inter-area');
  await expect(why).toContainText('Type 3 (summary) of tidepool-2');
  await expect(why).toContainText('sums up');
  await expect(why).toContainText(/tidepool-2\.json, line \d+/);
});

test('a link is cut and a router taken down; what is lost is told, and everything is restored', async ({ page }) => {
  await openFresh(page, '/?stage=failures');
  await expect(page.getByRole('heading', { name: 'Nothing is down' })).toBeVisible();
  await page.getByRole('button', { name: /Take down/ }).click();
  await page.getByLabel('Narrow what can fail').fill('tidepool-1');
  await page.getByRole('checkbox', { name: /beacon-1 – tidepool-1/ }).check();
  const lost = page.getByTestId('what-is-lost');
  await expect(lost).toContainText('beacon-1 loses tidepool-1 (full → down)');
  await expect(lost).toContainText('out of reach');
  await expect(page).toHaveURL(/fail=link/);
  await page.getByLabel('Narrow what can fail').fill('petrel-2');
  await page.getByRole('checkbox', { name: 'petrel-2 router', exact: true }).check();
  await expect(lost).toContainText('petrel-2, down');
  await page.keyboard.press('Escape');
  await lost.getByRole('button', { name: 'beacon-1', exact: true }).click();
  await expect(page.getByRole('columnheader', { name: 'against before' })).toBeVisible();
  await page.getByRole('button', { name: 'Only what changed' }).click();
  await expect(page.getByRole('row', { name: /lost, was/ }).first()).toBeVisible();
  await page.goBack();
  await page.getByRole('button', { name: 'Restore all' }).click();
  await expect(page.getByRole('heading', { name: 'Nothing is down' })).toBeVisible();
  // Here Enter takes a router down; walking past others does not.
  await page.locator('[data-router="beacon-1"]').focus();
  await page.keyboard.press('ArrowLeft');
  await expect(page.locator('[data-router="beacon-1"]')).not.toBeFocused();
  await expect(page.getByRole('heading', { name: 'Nothing is down' })).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Down now' })).toBeVisible();
});

test('every link is tried by itself, and the dearest is taken down from the list', async ({ page }) => {
  await openFresh(page, '/?stage=failures');
  await page.getByRole('button', { name: 'Try every link' }).click();
  const rows = page.getByLabel('What each cut does').getByRole('row');
  await expect(rows.nth(20)).toBeVisible();
  const name = (await rows.nth(1).getByRole('button').innerText()).trim();
  await rows.nth(1).getByRole('button').click();
  await expect(page.getByLabel('What is down').getByText(name)).toBeVisible();
  await expect(page.getByTestId('what-is-lost')).toContainText(/routes? lost/);
});

test('an export imported into an empty browser gives the same prediction, and survives a reload', async ({ page, browser }) => {
  await openFresh(page, '/?stage=neighbours&pair=kelp-1%2Fto-kelp-4~kelp-4%2Fto-kelp-1');
  await page.getByRole('button', { name: 'Set the dead interval of kelp-4 to 40 s' }).first().click();
  await expect(page.getByTestId('change-strip')).toContainText('neighbours gained');
  await page.goto('/?stage=layout');
  // What follows from what is found out a moment later.
  await expect(page.getByText('9 things to look at')).toBeVisible();
  const told = '9 things to look at';
  await page.goto('/?stage=routes&router=kelp-3');
  const wanted = await tableText(page);
  for (const item of ['Router documents as .zip', 'Whole design as .compass.json']) {
    await page.getByRole('button', { name: /Open or export/ }).click();
    const download = page.waitForEvent('download');
    await page.getByRole('menuitem', { name: item }).click();
    const file = await download;
    const content = readFileSync(await file.path());
    const other = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    const clean = await other.newPage();
    await openFresh(clean);
    await bring(clean, [{ name: file.suggestedFilename(), content }]);
    await expect(clean.getByText(told)).toBeVisible();
    await clean.goto('/?stage=routes&router=kelp-3');
    await expect.poll(() => tableText(clean)).toEqual(wanted);
    await clean.reload();
    await expect.poll(() => tableText(clean)).toEqual(wanted);
    await other.close();
  }
});

test('the design that was open before an import is kept, with its changes', async ({ page }) => {
  await openFresh(page, '/?stage=neighbours&pair=kelp-1%2Fto-kelp-4~kelp-4%2Fto-kelp-1');
  await page.getByRole('button', { name: 'Set the dead interval of kelp-4 to 40 s' }).first().click();
  await expect(page.getByTestId('change-strip')).toContainText('neighbours gained');
  await expect(page.getByText('5 errors')).toBeVisible();
  await bring(page, [{ name: 'one.json', content: '{ "ietf-system:system": { "hostname": "reef-1" } }' }]);
  await expect(page.getByText('1 router, 0 areas')).toBeVisible();
  await page.getByRole('button', { name: /Open or export/ }).click();
  await page.getByRole('menuitem', { name: /The shelf/ }).click();
  await expect(page.getByRole('list', { name: 'Kept designs' }).getByText(/20 routers, 5 areas, 6\d\d routes, 5 errors/)).toBeVisible();
  await page.getByRole('button', { name: 'Open Saltmarsh Point, before review' }).click();
  await expect(page.getByText('20 routers, 5 areas')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Undo', exact: true }).first()).toBeEnabled();
});

test('the map is worked by keyboard alone', async ({ page }) => {
  await openFresh(page);
  await page.locator('[data-router="beacon-1"]').focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'beacon-1' })).toBeVisible();
  await page.keyboard.press('ArrowLeft');
  await expect(page.getByRole('complementary', { name: 'What is chosen' }).getByRole('heading', { level: 2 })).not.toHaveText('beacon-1');
  await page.keyboard.press('6');
  await expect(page.getByRole('heading', { name: 'Nothing is down' })).toBeVisible();
});

test('pointing at a link says what its loss would change, and takes nothing down', async ({ page }) => {
  await openFresh(page, '/?stage=failures');
  const glimpse = page.getByTestId('glimpse');
  await expect(glimpse).toBeEmpty();
  await page.locator('[data-segment] title', { hasText: 'link beacon-1 to kelp-1' }).locator('..').locator('line').first().hover({ force: true });
  await expect(glimpse).toContainText(/^beacon-1 – kelp-1 down would lose \d+ routes and change \d+ routes in \d+ tables$/);
  await expect(page.getByRole('heading', { name: 'Nothing is down' })).toBeVisible();
  // By keyboard the same is said of the plate one stands on.
  await page.locator('[data-router="beacon-2"]').focus();
  await expect(glimpse).toContainText(/^beacon-2 down would lose/);
  await page.mouse.move(4, 400);
  await page.locator('[data-router="kelp-3"]').focus();
  await expect(glimpse).toContainText(/^kelp-3 down would/);
});
