import { campus, type Campus } from '@gentle-compass/core/testing/campus';
import { handedPrefix, twoPoints } from '@gentle-compass/core/testing/two-points';
import { expect, test, type Page } from '@playwright/test';
import { bring, openFresh, tableText } from './bench';

/** Behind a backbone of two: area 1 is plain and its border folds it, 2 is a stub, 3 an NSSA that brings a static route in. */
const three = (): Campus =>
  campus()
    .router('core', '10.96.0.1', 0)
    .router('gate', '10.96.0.2', 0)
    .router('one', '10.97.0.1', 1)
    .router('two', '10.98.0.1', 2)
    .router('three', '10.99.0.1', 3, { redistribution: [{ source: 'static', metric: 7 }] })
    .cable('core', 'gate', '10.96.128.0', 0)
    .cable('gate', 'one', '10.97.128.0', 1)
    .cable('gate', 'two', '10.98.128.0', 2)
    .cable('gate', 'three', '10.99.128.0', 3)
    .port('one', 'lab', '10.97.1.1/24', 1, { passive: true })
    .area('gate', 1, { ranges: { range: [{ prefix: '10.97.0.0/17' }] } })
    .area('gate', 2, { 'area-type': 'stub-area', 'default-cost': 4 })
    .area('two', 2, { 'area-type': 'stub-area' })
    .area('gate', 3, { 'area-type': 'nssa-area' })
    .area('three', 3, { 'area-type': 'nssa-area' })
    .port('three', 'out', '203.0.113.2/30', null)
    .static('three', '198.51.100.0/24', '203.0.113.1');

async function bringCampus(page: Page, c: Campus): Promise<void> {
  await openFresh(page);
  await bring(
    page,
    c.documents().map((d) => ({ name: d.file, content: JSON.stringify(d.tree) })),
  );
  await expect(page.getByText(/^5 routers, 4 areas/)).toBeVisible();
  await page.keyboard.press('3');
  await expect(page.getByRole('heading', { name: 'Areas', level: 1 })).toBeVisible();
}

const show = (page: Page, what: string) => page.getByRole('group', { name: 'What of the areas' }).getByRole('button', { name: what }).click();
const panel = (page: Page, name: string) => page.getByRole('complementary', { name });
/** The lines of the list of advertisements, each as its cells. */
const advertisements = (page: Page): Promise<string[]> =>
  page
    .getByRole('table', { name: 'Advertisements' })
    .getByRole('row')
    .evaluateAll((rows) =>
      rows
        .filter((r) => r.hasAttribute('aria-selected'))
        .map((r) =>
          [...r.querySelectorAll('[role=cell]')]
            .slice(0, 4)
            .map((c) => c.textContent)
            .join(' '),
        ),
    );

test('an area is tried as every other type, made totally stubby, and turned back', async ({ page }) => {
  await bringCampus(page, three());
  await show(page, 'Databases');
  await page.getByLabel('Database of').selectOption('two');
  await page.getByRole('button', { name: /^Type 3, / }).click();
  // Area 2 hears of the two loopbacks and the cable of the backbone, of area 1 folded and the cable that the range leaves out,
  // of area 3's loopback and cable; and a default.
  await expect
    .poll(async () => (await advertisements(page)).map((x) => x.replace(/^3 area 2 gate |, folds \d+$/g, '')))
    .toEqual(['0.0.0.0/0', '10.96.0.1/32', '10.96.0.2/32', '10.96.128.0/31', '10.97.0.0/17', '10.97.128.0/31', '10.99.0.1/32', '10.99.128.0/31']);
  await show(page, 'Another type');
  await page.getByLabel('Area to try').selectOption('2');
  const table = page.getByRole('table', { name: 'Types of Area 2' });
  // In the order of the types: normal, stub, totally stubby, NSSA, totally NSSA.
  await expect(table.getByRole('row', { name: /^3 summary, network/ }).getByRole('cell')).toHaveText(['7−1', '8', '1−7', '7−1', '1−7']);
  await expect(table.getByRole('row', { name: /^5 AS-external/ }).getByRole('cell')).toHaveText(['1+1', '0', '0', '0', '0']);
  await expect(table.getByRole('row', { name: /^routers to be told/ }).getByRole('cell')).toHaveText(['2', '0', '1', '2', '2']);
  await table.getByRole('button', { name: 'totally stubby', exact: true }).click();
  await expect(panel(page, 'About the type')).toContainText('7 advertisements that go');
  await table.getByRole('button', { name: 'Make area 2 totally stubby' }).click();
  await expect(table.getByRole('columnheader', { name: /^totally stubby as it is now/ })).toBeVisible();
  await show(page, 'Databases');
  await expect
    .poll(() => advertisements(page))
    .toEqual(['1 area 2 gate 1 link, 1 stub network, border router', '1 area 2 two 1 link, 2 stub networks', '3 area 2 gate 0.0.0.0/0']);
  await page.keyboard.press('4');
  await expect(page.getByRole('heading', { name: 'Routes of two' })).toBeVisible();
  const routes = await tableText(page);
  expect(routes.filter((r) => r.includes('inter-area'))).toHaveLength(1);
  expect(routes.some((r) => r.startsWith('0.0.0.0/0inter-area') || r.startsWith('0.0.0.0/0 inter-area'))).toBe(true);
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await tableText(page)).filter((r) => r.includes('inter-area')).length).toBe(8);
});

test('a backbone area left over on a router is explained by what it causes, and mended', async ({ page }) => {
  await bringCampus(page, three().port('one', 'spare', '10.96.200.1/24', 0, { passive: true }));
  const table = page.getByRole('table', { name: 'Areas' });
  await expect(table.getByRole('row', { name: /^Area 1/ })).toContainText('one stands at its border by mistake');
  await table.getByRole('button', { name: 'Area 1' }).click();
  const about = panel(page, 'About the area');
  await expect(about).toContainText('the backbone by spare (nobody answers there)');
  // What it causes: it tells area 1 of a network that the backbone proper does not know.
  await show(page, 'Databases');
  await page.getByLabel('Database of').selectOption('gate');
  await page.getByLabel('Narrow the advertisements').fill('10.96.200.0/24');
  await expect.poll(() => advertisements(page)).toEqual(['3 area 1 one 10.96.200.0/24']);
  await show(page, 'At a glance');
  await about.getByRole('article').filter({ hasText: 'spare' }).getByRole('button').nth(1).click();
  await expect(table.getByRole('row', { name: /^Area 1/ })).not.toContainText('by mistake');
});

test('an external route is followed from its line through types 7 and 5 to where it stops', async ({ page }) => {
  await bringCampus(page, three());
  await show(page, 'How far it goes');
  const field = page.getByLabel('Prefix to follow');
  await field.fill('198.51.100.0/24');
  await field.press('Enter');
  const about = panel(page, 'How far it goes');
  await expect(about.locator('[data-area="3"]')).toContainText('7198.51.100.0/24three, 7');
  await expect(about.locator('[data-area="0"]')).toContainText('5198.51.100.0/24gate, 7');
  await expect(about.locator('[data-area="2"]')).toContainText('by a default alone');
  await expect(about.locator('[data-area="2"]')).toContainText('no type 5 enters a stub area');
  await about.getByRole('button', { name: '198.51.100.0/24 three, 7' }).click();
  await expect(about).toContainText('2 of 5 routers hold it.');
  await expect(about).toContainText('Type 7 stays in its NSSA; gate translates');
  await expect(page.getByRole('button', { name: /^gate, border router.*stops here/ })).toBeVisible();
  await about.locator('[data-area="0"]').getByRole('button').first().click();
  await expect(about).toContainText('3 of 5 routers hold it.');
  await expect(about).toContainText('Area 2 is a stub area: no type 5 enters');
  // Its line: read there, it names what makes it.
  await about.getByRole('button', { name: '198.51.100.0/24 three, 7' }).click();
  await about.getByRole('button', { name: 'Read it' }).click();
  const read = panel(page, 'About the advertisement');
  await expect(read.getByRole('button', { name: /^three\.json, line \d+/ })).toBeVisible();
  await expect(read).toContainText('"source": "static"');
  await expect(read.locator('dl')).toContainText('lsa-id198.51.100.0');
});

test('a circle of two-point redistribution is shown, and ended by a policy; every exit says by which rule it wins', async ({ page }) => {
  await openFresh(page);
  await bring(
    page,
    twoPoints()
      .documents()
      .map((d) => ({ name: d.file, content: JSON.stringify(d.tree) })),
  );
  await expect(page.getByText('3 routers, 1 area')).toBeVisible();
  await page.keyboard.press('3');
  await show(page, 'From outside');
  const circle = page.getByRole('article', { name: `Circle of ${handedPrefix}` });
  await expect(circle).toContainText('it goes round');
  await expect(circle.getByRole('img', { name: 'west tells east by the other protocol, east tells west by OSPF' })).toBeVisible();
  const wins = page.getByRole('table', { name: 'Which exit wins' });
  await expect(wins.getByRole('row', { name: /^west/ })).toContainText('eastexternal-125Before core: type 1 goes before type 2.');
  const entered = page.getByRole('table', { name: 'What enters from outside' }).getByRole('row');
  await expect(entered.nth(2)).toContainText(`${handedPrefix}eastanother protocol55type 1none`);
  const type = async (line: string): Promise<void> => {
    await page.keyboard.press('/');
    await page.getByRole('combobox', { name: 'A line that changes the design' }).fill(line);
    await page.keyboard.press('Enter');
    await expect(page.getByRole('combobox', { name: 'A line that changes the design' })).toHaveValue('');
    await page.keyboard.press('Escape');
  };
  await type('policy nothing reject on east');
  await type('bring other on east metric 5 type type-1 policy nothing');
  await expect(circle).toContainText('it is ended');
  await expect(circle).toContainText('The policy nothing of east refuses it');
  await expect(wins.getByRole('row', { name: /^east and west|^west/ })).toContainText('core');
  await expect(entered).toHaveCount(2);
});
