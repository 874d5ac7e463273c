import { campus, type Campus } from '@gentle-compass/core/testing/campus';
import { expect, test, type Page } from '@playwright/test';
import { bring, openFresh, tableText } from './bench';

/** Eleven labs of area 20 behind two gates; area 30 behind an edge, with a lab of its own among them. */
function network(): Campus {
  const c = campus()
    .router('core', '10.96.0.1', 0)
    .router('gate-1', '10.96.0.2', 0)
    .router('gate-2', '10.96.0.3', 0)
    .router('edge', '10.96.0.4', 0)
    .router('dune-1', '10.97.64.1', 20)
    .router('dune-2', '10.97.64.2', 20)
    .router('marsh', '10.98.0.1', 30)
    .cable('core', 'gate-1', '10.96.128.0', 0)
    .cable('core', 'gate-2', '10.96.128.2', 0)
    .cable('core', 'edge', '10.96.128.4', 0)
    .cable('gate-1', 'dune-1', '10.97.128.0', 20)
    .cable('gate-2', 'dune-2', '10.97.128.2', 20)
    .cable('dune-1', 'dune-2', '10.97.128.4', 20)
    .cable('edge', 'marsh', '10.98.128.0', 30)
    .port('marsh', 'hide', '10.97.24.1/24', 30, { passive: true });
  const lab = (router: string, n: number, cost = 10): unknown => c.port(router, `lab-${n}`, `10.97.${n}.1/24`, 20, { passive: true, cost });
  for (const n of [0, 1, 2]) lab('dune-1', n);
  lab('dune-1', 3, 40);
  for (const n of [8, 9]) lab('dune-2', n);
  for (const n of [16, 17, 18, 19]) lab('dune-1', n);
  lab('dune-2', 40);
  return c;
}

async function bringNetwork(page: Page, c = network()): Promise<void> {
  await openFresh(page);
  await bring(
    page,
    c.documents().map((d) => ({ name: d.file, content: JSON.stringify(d.tree) })),
  );
  await expect(page.getByText(/^7 routers, 3 areas/)).toBeVisible();
  await page.keyboard.press('4');
  await expect(page.getByRole('heading', { name: 'Summaries', level: 1 })).toBeVisible();
  await page.getByLabel('Area to summarise').selectOption('20');
  await expect(page.getByText('no summary', { exact: true })).toBeVisible();
}

const show = (page: Page, what: string) => page.getByRole('group', { name: 'What of the summaries' }).getByRole('button', { name: what }).click();
const bracket = (page: Page, prefix: string) => page.locator(`[data-summary="${prefix}"]`);
const verdict = (page: Page) => page.getByRole('region', { name: 'What it would do' });

/** Walks by Tab until what has the focus is called so. */
async function tabTo(page: Page, name: RegExp): Promise<void> {
  for (let n = 0; n < 60; n++) {
    const label = await page.evaluate(() => document.activeElement?.getAttribute('aria-label') ?? document.activeElement?.textContent ?? '');
    if (name.test(label)) return;
    await page.keyboard.press('Tab');
  }
  throw new Error(`nothing called ${name} has the focus`);
}

/** Lays three summaries over ten of the eleven labs, by keys alone. */
async function layByKeys(page: Page): Promise<void> {
  await tabTo(page, /^Address ruler/);
  await page.keyboard.press('n');
  await expect(bracket(page, '10.97.0.0/24')).toBeFocused();
  await page.keyboard.press('ArrowUp');
  await expect(bracket(page, '10.97.0.0/23')).toBeFocused();
  await page.keyboard.press('ArrowUp');
  await expect(bracket(page, '10.97.0.0/22')).toBeFocused();
  await page.keyboard.press('n');
  await expect(bracket(page, '10.97.8.0/24')).toBeFocused();
  await page.keyboard.press('ArrowUp');
  await expect(bracket(page, '10.97.8.0/23')).toBeFocused();
  await page.keyboard.press('n');
  await expect(bracket(page, '10.97.16.0/24')).toBeFocused();
  await page.keyboard.press('ArrowUp');
  await expect(bracket(page, '10.97.16.0/23')).toBeFocused();
  await page.keyboard.press('ArrowUp');
  await expect(bracket(page, '10.97.16.0/22')).toBeFocused();
}

const inter = async (page: Page): Promise<string[]> => (await tableText(page)).filter((r) => r.startsWith('10.97.'));

test('three summaries laid by keys over ten of eleven labs: taken over, one route each beyond, a discard route at the gates', async ({ page }) => {
  await bringNetwork(page);
  await layByKeys(page);
  // The eleventh lab, two loopbacks and three cables are told by themselves.
  await expect(page.getByText('6 prefixes outside')).toBeVisible();
  await expect(page.getByText(/told by themselves: 10\.97\.40\.0\/24, 10\.97\.64\.1\/32, 10\.97\.64\.2\/32, 10\.97\.128\.0\/31/)).toBeVisible();
  // Two gates tell ten labs as three: 14 fewer in the backbone, 7 in area 30.
  await expect(verdict(page)).toContainText('21 advertisements fewer in 2 databases');
  await expect(verdict(page).getByRole('table', { name: 'Advertisements before and after' }).getByRole('row').nth(1)).toContainText('Backbone');
  await tabTo(page, /^Take over on gate-1 and gate-2/);
  await page.keyboard.press('Enter');
  await expect(verdict(page)).toContainText('As it stands.');
  await expect(page.getByText(/^Area 20 summarised as 10\.97\.0\.0\/22/)).toBeVisible();

  // Seen from another area: one route for each summary, and the eleventh lab by itself.
  await page.keyboard.press('5');
  await page.getByRole('button', { name: /^marsh/ }).click();
  await expect(page.getByRole('heading', { name: 'Routes of marsh' })).toBeVisible();
  const seen = (await inter(page)).map((r) => r.split(' ')[0]);
  expect(seen).toEqual([
    '10.97.0.0/22',
    '10.97.128.0/31',
    '10.97.128.2/31',
    '10.97.128.4/31',
    '10.97.16.0/22',
    '10.97.24.0/24',
    '10.97.40.0/24',
    '10.97.64.1/32',
    '10.97.64.2/32',
    '10.97.8.0/23',
  ]);
  await page.getByRole('button', { name: /^gate-1/ }).click();
  await expect(page.getByRole('heading', { name: 'Routes of gate-1' })).toBeVisible();
  expect((await tableText(page)).filter((r) => r.includes('discard')).map((r) => r.split(' ')[0])).toEqual([
    '10.97.0.0/22',
    '10.97.16.0/22',
    '10.97.8.0/23',
  ]);
});

test('before and after: the routes that became one are marked as such', async ({ page }) => {
  await bringNetwork(page);
  await layByKeys(page);
  await page.getByRole('button', { name: /^Take over on/ }).click();
  await expect(verdict(page)).toContainText('As it stands.');
  await page.getByRole('button', { name: 'Compared with' }).click();
  await page.getByRole('menuitem', { name: 'Before the last change' }).click();
  await page.keyboard.press('5');
  await page.getByRole('button', { name: /^marsh/ }).click();
  await expect(page.getByRole('row', { name: /^10\.97\.0\.0\/22.*gained, stands for 4/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /^10\.97\.9\.0\/24.*lost, in 10\.97\.8\.0\/23 now/ })).toBeVisible();
  await page.keyboard.press('7');
  await expect(page.getByRole('row', { name: /^marsh 10 3 0 10/ })).toBeVisible();
});

test('four more loopbacks inside a summary and still one advertisement; a flap hidden by a fixed cost', async ({ page }) => {
  const c = network();
  for (const gate of ['gate-1', 'gate-2']) c.area(gate, 20, { ranges: { range: [{ prefix: '10.97.0.0/22' }] } });
  for (const n of [1, 2, 3, 4]) c.port('dune-1', `lo${n}`, `10.97.3.${240 + n}/32`, 20, { iface: { type: 'softwareLoopback' } });
  await openFresh(page);
  await bring(
    page,
    c.documents().map((d) => ({ name: d.file, content: JSON.stringify(d.tree) })),
  );
  await page.keyboard.press('4');
  await page.getByLabel('Area to summarise').selectOption('20');
  await expect(page.getByRole('row', { name: /^10\.97\.0\.0\/22 8 0 1,024/ })).toBeVisible();
  // Told by the two gates, once each.
  await page.keyboard.press('3');
  await page.getByRole('group', { name: 'What of the areas' }).getByRole('button', { name: 'Databases' }).click();
  await page.getByLabel('Database of', { exact: true }).selectOption('core');
  await page.getByLabel('Narrow the advertisements').fill('10.97.3.');
  await expect(page.getByRole('table', { name: 'Advertisements' }).locator('[aria-selected]')).toHaveCount(0);
  await page.getByLabel('Narrow the advertisements').fill('10.97.0.0/22');
  await expect(page.getByRole('table', { name: 'Advertisements' }).locator('[aria-selected]')).toHaveCount(2);

  await page.keyboard.press('Escape');
  await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
  await page.keyboard.press('4');
  await show(page, 'What they hide');
  const flap = page.getByRole('row', { name: /^lab-3 of dune-1/ });
  await expect(flap).toContainText('1 prefix lost');
  await expect(flap).toContainText('another costnothing');
  await flap.click();
  // Dearest is lab-3: 10 to dune-1 and 40 from gate-1, 20 and 40 from gate-2.
  await expect(page.getByRole('region', { name: 'When lab-3 of dune-1 fails' })).toContainText('gate-1 50 → 20 and gate-2 60 → 30');
  await page.getByRole('button', { name: 'Fix the cost at 60…' }).click();
  await page.keyboard.press('Enter');
  await page.keyboard.press('Escape');
  await expect(page.getByText(/^Area 20 summarised as 10\.97\.0\.0\/22 on gate-1, gate-2, cost 60/)).toBeVisible();
  // The lab fails: marsh hears nothing.
  await page.goto(`/?stage=routes&router=marsh&fail=${encodeURIComponent('interface:dune-1/lab-3')}`);
  await expect(page.getByRole('heading', { name: /^Routes of marsh/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /^10\.97\.0\.0\/22/ })).toContainText('inter-area90');
  await expect(page.getByRole('row', { name: /^10\.97\.0\.0\/22/ })).not.toContainText('changed');
});

test('a summary that claims foreign space is refused with its example, unless foreign prefixes are allowed', async ({ page }) => {
  await bringNetwork(page);
  await layByKeys(page);
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('ArrowUp');
  await expect(bracket(page, '10.97.16.0/20')).toBeFocused();
  await expect(bracket(page, '10.97.16.0/20')).toHaveAttribute('aria-label', /1 foreign: 10\.97\.24\.0\/24/);
  await expect(verdict(page)).toContainText('10.97.16.0/20 claims what is not the area’s: 10.97.24.0/24 lies in area 30.');
  await expect(verdict(page)).toContainText('From core to 10.97.24.1');
  const take = page.getByRole('button', { name: /^Take over on/ });
  await expect(take).toBeDisabled();
  await page.getByLabel('Foreign prefixes in each').fill('1');
  await expect(take).toBeEnabled();
  await take.click();
  // What was written is found and said again, with what would mend it.
  await show(page, 'Dangers');
  await expect(page.getByRole('row', { name: /error.*10\.97\.16\.0\/20.*also claims 10\.97\.24\.0\/24/ }).first()).toBeVisible();
  await page.getByRole('button', { name: /^Summarise as .* instead on gate-1 and gate-2/ }).click();
  await expect(page.getByRole('row', { name: /also claims/ })).toHaveCount(0);
});

test('the planner proposes, a proposal is laid and drawn by its end', async ({ page }) => {
  await bringNetwork(page);
  const planner = page.getByRole('complementary', { name: 'Planner' });
  await planner.getByLabel('Summaries at most').fill('3');
  await planner.getByLabel('Left out, with all that they hold').fill('10.97.64.0/18 10.97.128.0/17');
  await expect(planner).toContainText('Proposals for 11 prefixes');
  const best = planner.getByRole('button', { name: /^Best: 3 summaries/ });
  // Area 30 has a lab between them: it is not claimed.
  await expect(best).toContainText('10.97.0.0/20, 10.97.16.0/22, 10.97.40.0/24');
  await expect(best).toContainText('nothing outside');
  await best.click();
  await expect(page.getByText('All 11 prefixes are in a summary.')).toBeVisible();
  const end = page.locator('[data-end="last"]').first();
  const box = await end.boundingBox();
  const own = await bracket(page, '10.97.0.0/20').boundingBox();
  if (!box || !own) throw new Error('no bracket is drawn');
  // Drawn to the middle of what it claims: half of it is left.
  await page.mouse.move(box.x + box.width / 2, box.y + 6);
  await page.mouse.down();
  await page.mouse.move(own.x + own.width / 2 - 12, box.y + 6, { steps: 4 });
  await page.mouse.up();
  await expect(bracket(page, '10.97.0.0/21')).toBeVisible();
  await expect(page.getByText('2 prefixes outside')).toBeVisible();
});

test('what comes out of an NSSA is summarised on both border routers, at a metric of its own', async ({ page }) => {
  const c = campus()
    .router('core', '10.96.0.1', 0)
    .router('heron-1', '10.96.0.2', 0)
    .router('heron-2', '10.96.0.3', 0)
    .router('dune', '10.97.0.1', 20, { redistribution: [{ source: 'static', metric: 9 }] })
    .cable('core', 'heron-1', '10.96.128.0', 0)
    .cable('core', 'heron-2', '10.96.128.2', 0)
    .cable('heron-1', 'dune', '10.97.128.0', 20)
    .cable('heron-2', 'dune', '10.97.128.2', 20);
  for (const r of ['heron-1', 'heron-2', 'dune']) c.area(r, 20, { 'area-type': 'nssa-area' });
  for (const n of [0, 1, 2, 3]) c.static('dune', `198.51.100.${n * 64}/26`, 'blackhole');
  await openFresh(page);
  await bring(
    page,
    c.documents().map((d) => ({ name: d.file, content: JSON.stringify(d.tree) })),
  );
  await expect(page.getByText(/^4 routers, 2 areas/)).toBeVisible();
  await page.keyboard.press('4');
  await show(page, 'Outside');
  // heron-2 has the higher id: it translates.
  await page.getByLabel('Router that announces').selectOption('heron-2');
  const best = page.getByRole('complementary', { name: 'Planner' }).getByRole('button', { name: /^Best: 1 summary/ });
  await expect(best).toContainText('198.51.100.0/24');
  await best.click();
  await page.getByLabel('metric of 198.51.100.0/24', { exact: true }).selectOption('fixed');
  await page.getByLabel('Fixed metric of 198.51.100.0/24').fill('33');
  await expect(verdict(page)).toContainText('3 advertisements fewer');
  await page.getByRole('button', { name: 'Take over on heron-2 and heron-1' }).click();
  await expect(verdict(page)).toContainText('As it stands.');
  await page.keyboard.press('5');
  await page.getByRole('button', { name: /^core/ }).click();
  await expect(page.getByRole('heading', { name: 'Routes of core' })).toBeVisible();
  const seen = (await tableText(page)).filter((r) => r.startsWith('198.'));
  expect(seen).toHaveLength(1);
  expect(seen[0]).toMatch(/^198\.51\.100\.0\/24 external-2 33 heron-2/);
});
