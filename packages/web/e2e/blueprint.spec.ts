import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { bring, openFresh, tableText } from './bench';

async function openBlueprint(page: Page): Promise<void> {
  await page.getByRole('button', { name: /Open or export/ }).click();
  await page.getByRole('menuitem', { name: /^Blueprint/ }).click();
  await expect(page.getByRole('heading', { name: 'Blueprint' })).toBeVisible();
}

const outlook = (page: Page) => page.getByRole('complementary', { name: 'What the blueprint does' });

/** A line of quick entry. */
async function change(page: Page, line: string): Promise<void> {
  await page.keyboard.press('/');
  const field = page.getByRole('combobox', { name: 'A line that changes the design' });
  await field.fill(line);
  await field.press('Enter');
  await expect(field).toHaveValue('');
  await field.press('Escape');
  await expect(page.getByTestId('change-strip')).toContainText(/gained|lost|changed|No neighbour/);
}

test('a campus of a blueprint is adjusted by hand, its blueprint changed, and the adjustment stays; exported, it is the same elsewhere', async ({
  page,
  browser,
}) => {
  await openFresh(page);
  await page.getByRole('button', { name: /Open or export/ }).click();
  await page.getByRole('menuitem', { name: 'An empty design' }).click();
  await page.getByRole('button', { name: 'Lay a campus out from a blueprint' }).click();
  // Forty routers in six areas; the plan stands before anything is made.
  await page.getByRole('button', { name: 'Add an area' }).click();
  await page.getByRole('button', { name: 'Add an area' }).click();
  for (const [n, access] of [3, 5, 4, 2, 2].entries()) await page.getByLabel(`access routers, line ${n + 1}`, { exact: true }).fill(String(access));
  await page.getByLabel('distribution routers, line 3').fill('2');
  await expect(outlook(page).getByText('38 routers come')).toBeVisible();
  await page.getByLabel('cables of each access router upwards, line 1').fill('3');
  await expect(page.getByRole('alert').filter({ hasText: '3 uplinks need as many routers above; kelp has 2.' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Make the campus' })).toBeDisabled();
  await page.getByLabel('cables of each access router upwards, line 1').fill('2');
  await expect(page.getByRole('table').filter({ hasText: 'room left for' }).getByRole('row')).toHaveCount(7);
  await page.getByRole('button', { name: 'Make the campus' }).click();
  await expect(page.getByText('38 routers, 6 areas')).toBeVisible();
  await expect(page.getByText(/^no errors/)).toBeVisible();
  await expect(page.getByText(/pairs of neighbours full, 0 in trouble/)).toBeVisible();
  // By hand: one cost, and a router that the blueprint knows nothing of.
  await change(page, 'set cost 77 on kelp-1/to-kelp-border-1');
  await change(page, 'router lone-1 area 10');
  await change(page, 'link lone-1 kelp-1');
  await openBlueprint(page);
  await expect(outlook(page).getByRole('heading', { name: 'The campus is laid out so' })).toBeVisible();
  await page.getByLabel('access routers, line 1', { exact: true }).fill('4');
  await page.getByLabel('cost of uplinks').fill('30');
  await expect(outlook(page).getByText('1 router come')).toBeVisible();
  await expect(outlook(page).getByText(/place kept as edited by hand/)).toBeVisible();
  await page.getByRole('button', { name: 'Change the campus' }).click();
  await expect(page.getByText('40 routers, 6 areas')).toBeVisible();
  await expect(page.getByText(/^no errors/)).toBeVisible();
  await page.goto('/?router=kelp-1');
  const panel = page.getByRole('complementary', { name: 'What is chosen' });
  await expect(panel.getByRole('button', { name: /^to-kelp-border-1 .*77$/ })).toBeVisible();
  await expect(panel.getByRole('button', { name: /^to-kelp-border-2 .*30$/ })).toBeVisible();
  // Elsewhere it is the same.
  await page.goto('/?stage=routes&router=lone-1');
  const wanted = await tableText(page);
  expect(wanted.length).toBeGreaterThan(10);
  await page.getByRole('button', { name: /Open or export/ }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('menuitem', { name: 'Whole design as .compass.json' }).click();
  const text = readFileSync(await (await download).path(), 'utf8');
  const other = await browser.newContext();
  const clean = await other.newPage();
  await openFresh(clean);
  await bring(clean, [{ name: 'campus.compass.json', content: text }]);
  await expect(clean.getByText('40 routers, 6 areas')).toBeVisible();
  await clean.goto('/?stage=routes&router=lone-1');
  await expect.poll(() => tableText(clean)).toEqual(wanted);
  await openBlueprint(clean);
  await expect(clean.getByLabel('cost of uplinks')).toHaveValue('30');
  await other.close();
});

test('the map is exported as a drawing of its own, and a change as a sheet of what to alter', async ({ page }) => {
  await openFresh(page);
  const drawing = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Export the map as SVG' }).click();
  const svg = readFileSync(await (await drawing).path(), 'utf8');
  expect(svg).not.toMatch(/var\(|class=/);
  const seen = await page.evaluate((text) => {
    const parsed = new DOMParser().parseFromString(text, 'image/svg+xml');
    return { fault: parsed.querySelector('parsererror')?.textContent ?? '', texts: [...parsed.querySelectorAll('text')].map((t) => t.textContent) };
  }, svg);
  expect(seen.fault).toBe('');
  for (const name of ['beacon-1', 'kelp-5', 'tidepool-4', 'harbour-exit']) expect(seen.texts).toContain(name);
  await change(page, 'set cost 33 on kelp-1/to-kelp-3');
  await page.keyboard.press('7');
  await page.getByRole('button', { name: 'Before the last change' }).click();
  const sheet = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Worksheet of what to alter' }).click();
  const text = readFileSync(await (await sheet).path(), 'utf8');
  expect(text).toContain('| ☐ | protocol campus, area 10, interface to-kelp-3: cost | 20 | 33 |');
});

test('the sample campus is built again from its three tables, and wrong cells are told with row and column', async ({ page, browser }) => {
  await openFresh(page);
  const files: { name: string; content: string }[] = [];
  for (const name of ['routers', 'interfaces', 'links']) {
    await page.getByRole('button', { name: /Open or export/ }).click();
    await page.getByRole('menuitem', { name: /A table as CSV/ }).press('ArrowRight');
    const download = page.waitForEvent('download');
    await page.getByRole('menuitem', { name, exact: true }).press('Enter');
    files.push({ name: `${name}.csv`, content: readFileSync(await (await download).path(), 'utf8') });
  }
  const other = await browser.newContext();
  const clean = await other.newPage();
  await openFresh(clean);
  await bring(clean, files);
  await expect(
    clean
      .getByRole('dialog')
      .getByText(/Not used/)
      .first(),
  ).toBeVisible();
  await clean.keyboard.press('Escape');
  await expect(clean.locator('header').getByText('Imported campus')).toBeVisible();
  await expect(clean.getByText('20 routers, 5 areas')).toBeVisible();
  const told = (await page.getByText(/pairs of neighbours full/).innerText()).trim();
  await expect(clean.getByText(told)).toBeVisible();
  await bring(clean, [{ name: 'routers.csv', content: 'router,router-id\nskerry-1,10.96.0\nskerry-2,10.96.0.2\n' }]);
  await expect(clean.getByRole('dialog').getByText('"10.96.0" is not a router id other than 0.0.0.0, such as 10.96.0.1.')).toBeVisible();
  await expect(clean.getByRole('dialog').getByText(/row 2, column router-id/)).toBeVisible();
  await other.close();
});
