import type { Campus } from '@gentle-compass/core/testing/campus';
import { three } from '@gentle-compass/core/testing/three-areas';
import { handedPrefix, twoPoints } from '@gentle-compass/core/testing/two-points';
import { expect, test, type Page } from '@playwright/test';
import { bring, openFresh, tableText } from './bench';

/** Area 2 of those a stub area that summaries enter. */
const threeAreas = (): Campus => three().area('gate', 2, { summary: true });

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
  await bringCampus(page, threeAreas());
  await show(page, 'Databases');
  await page.getByLabel('Database of', { exact: true }).selectOption('two');
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
  await page.keyboard.press('5');
  await expect(page.getByRole('heading', { name: 'Routes of two' })).toBeVisible();
  const routes = await tableText(page);
  expect(routes.filter((r) => r.includes('inter-area'))).toHaveLength(1);
  expect(routes.some((r) => r.startsWith('0.0.0.0/0inter-area') || r.startsWith('0.0.0.0/0 inter-area'))).toBe(true);
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await tableText(page)).filter((r) => r.includes('inter-area')).length).toBe(8);
});

test('a backbone area left over on a router is explained by what it causes, and mended', async ({ page }) => {
  await bringCampus(page, threeAreas().port('one', 'spare', '10.96.200.1/24', 0, { passive: true }));
  const table = page.getByRole('table', { name: 'Areas' });
  await expect(table.getByRole('row', { name: /^Area 1/ })).toContainText('one stands at its border by mistake');
  await table.getByRole('button', { name: 'Area 1' }).click();
  const about = panel(page, 'About the area');
  await expect(about).toContainText('the backbone by spare (nobody answers there)');
  // What it causes: it tells area 1 of a network that the backbone proper does not know.
  await show(page, 'Databases');
  await page.getByLabel('Database of', { exact: true }).selectOption('gate');
  await page.getByLabel('Narrow the advertisements').fill('10.96.200.0/24');
  await expect.poll(() => advertisements(page)).toEqual(['3 area 1 one 10.96.200.0/24']);
  await show(page, 'At a glance');
  await about.getByRole('article').filter({ hasText: 'spare' }).getByRole('button').nth(1).click();
  await expect(table.getByRole('row', { name: /^Area 1/ })).not.toContainText('by mistake');
});

test('an external route is followed from its line through types 7 and 5 to where it stops', async ({ page }) => {
  await bringCampus(page, threeAreas());
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

test('a statement says while it is typed what it takes; a filter at a border is held against one at a receiver', async ({ page }) => {
  await bringCampus(page, threeAreas());
  await show(page, 'Filters');
  await page.getByLabel('Policies of').selectOption('one');
  await page.getByLabel('Prefix to keep out').fill('10.96.0.1/32');
  await page.getByLabel('Area to keep it out of').selectOption('1');
  const ways = page.getByRole('table', { name: 'One prefix, kept out in two ways' });
  // Held in the backbone, and as a summary in areas 1, 2 and 3: by all five, of which the border keeps one out.
  await expect(ways.getByRole('row', { name: /^routers that hold it/ }).getByRole('cell')).toHaveText(['5 → 4', '5 → 5']);
  await expect(ways.getByRole('row', { name: /^tables that have it/ }).getByRole('cell')).toHaveText(['5 → 4', '5 → 4']);
  await expect(ways.getByRole('row', { name: /^who loses reach/ }).getByRole('cell')).toHaveText(['one 10.96.0.1/32', 'one 10.96.0.1/32']);
  await page.getByRole('button', { name: 'At one alone: make it so' }).click();
  const flow = page.getByRole('table', { name: /^What without-10\.96\.0\.1-32 does over its own table/ });
  await expect(flow.getByRole('row', { name: /refuses what without/ }).getByRole('cell')).toHaveText(['1', '10.96.0.1/32']);
  await expect(
    page.getByText('For it 1 route is missing in one: the databases are untouched, one holds it all and floods it on; one cannot reach'),
  ).toBeVisible();
  // It is gone from the table, and floods on: the database still holds it.
  await show(page, 'Databases');
  await page.getByLabel('Database of', { exact: true }).selectOption('one');
  await page.getByLabel('Narrow the advertisements').fill('10.96.0.1/32');
  await expect.poll(() => advertisements(page)).toEqual(['3 area 1 gate 10.96.0.1/32']);
  await page.keyboard.press('Escape');
  await page.getByRole('heading', { name: 'Areas', level: 1 }).click();
  await page.keyboard.press('5');
  await expect(page.getByRole('heading', { name: 'Routes of one' })).toBeVisible();
  expect((await tableText(page)).some((r) => r.startsWith('10.96.0.1/32'))).toBe(false);
  // A statement in its form: what it would take stands there before it is made.
  await page.keyboard.press('3');
  await show(page, 'Filters');
  await page.getByRole('button', { name: 'Statement…' }).click();
  const form = page.getByRole('dialog');
  await form.getByLabel('policy', { exact: true }).fill('without-10.96.0.1-32');
  await form.getByLabel('the statement', { exact: true }).selectOption('reject');
  await form.getByLabel(/before the other/).check();
  const would = form.getByRole('region', { name: 'What would pass' });
  await expect(
    would
      .getByRole('row', { name: /refuses everything/ })
      .getByRole('cell')
      .first(),
  ).toHaveText('11');
  await expect(would).toContainText('0 prefixes of 11 pass');
});

test('two databases side by side: what one holds alone, why, and how the other one knows it', async ({ page }) => {
  await bringCampus(page, threeAreas());
  await show(page, 'Databases');
  await page.getByLabel('Database of', { exact: true }).selectOption('one');
  await page.getByLabel('Beside the database of').selectOption('two');
  // They share what floods everywhere in neither: area 2 is a stub area. The border's summaries are made for each area anew.
  await expect(page.getByRole('group', { name: 'Who holds it' }).getByRole('button')).toHaveText([/^\d+ one alone$/, '0 both', /^\d+ two alone$/]);
  await page.getByLabel('Narrow the advertisements').fill('10.97.1.0/24 stub');
  await page
    .getByRole('table', { name: 'Advertisements' })
    .getByRole('row', { name: /one 1 link, 3 stub networks/ })
    .click();
  const about = panel(page, 'About the advertisement');
  await expect(about).toContainText('two has no part in area 1.');
  await page.getByLabel('Narrow the advertisements').fill('198.51.100.0/24');
  await page
    .getByRole('table', { name: 'Advertisements' })
    .getByRole('row', { name: /^5 everywhere gate/ })
    .click();
  await expect(about).toContainText('two stands in a stub area alone: no type 5 comes there.');
  await expect(about).toContainText('How two knows 198.51.100.0/24');
  await expect(about).toContainText('in area 2: type 3 0.0.0.0/0 of gate');
});

test('an area takes another type in both families as one edit', async ({ page }) => {
  await openFresh(page, '/?stage=areas&show=types&area=10');
  const table = page.getByRole('table', { name: 'Types of Area 10' });
  await table.getByRole('button', { name: 'totally stubby', exact: true }).click();
  await table.getByRole('button', { name: 'Make area 10 totally stubby in both families' }).click();
  await expect(table.getByRole('columnheader', { name: /^totally stubby as it is now/ })).toBeVisible();
  await page.getByRole('group', { name: 'Family that is looked at' }).getByRole('button', { name: 'IPv6' }).click();
  await expect(table.getByRole('columnheader', { name: /^totally stubby as it is now/ })).toBeVisible();
  await expect(
    table
      .getByRole('row', { name: /^0x2003 inter-area-prefix/ })
      .getByRole('cell')
      .nth(2),
  ).toHaveText('2');
  await page.keyboard.press('Control+z');
  await expect(table.getByRole('columnheader', { name: /^normal as it is now/ })).toBeVisible();
});
