import { campus, type Campus } from '@gentle-compass/core/testing/campus';
import { mirrored, six } from '@gentle-compass/core/testing/mirror';
import { expect, test, type Page } from '@playwright/test';
import { bring, openFresh } from './bench';

/** Two equal ways from core to gate; a lab behind gate in area 20, which gate sums up; a pier of core that OSPF does not tell. */
const network = (): Campus =>
  campus()
    .router('core', '10.96.0.1', 0)
    .router('east', '10.96.0.2', 0)
    .router('west', '10.96.0.3', 0)
    .router('gate', '10.96.0.4', 0)
    .router('dune', '10.97.64.1', 20)
    .cable('core', 'east', '10.96.128.0', 0)
    .cable('core', 'west', '10.96.128.2', 0)
    .cable('east', 'gate', '10.96.128.4', 0)
    .cable('west', 'gate', '10.96.128.6', 0)
    .cable('gate', 'dune', '10.97.128.0', 20)
    .port('dune', 'lab', '10.97.1.1/24', 20, { passive: true })
    .port('core', 'pier', '10.98.5.1/24', null)
    .area('gate', 20, { ranges: { range: [{ prefix: '10.97.0.0/16' }] } });

async function bringNetwork(page: Page, documents = network().documents()): Promise<void> {
  await openFresh(page);
  await bring(
    page,
    documents.map((d) => ({ name: d.file, content: JSON.stringify(d.tree) })),
  );
  await expect(page.getByText(/^5 routers, 2 areas/)).toBeVisible();
  await page.keyboard.press('5');
  await expect(page.getByRole('heading', { name: 'Routes', level: 1 })).toBeVisible();
}

const show = (page: Page, what: string) => page.getByRole('group', { name: 'What of the routes' }).getByRole('button', { name: what }).click();
const panel = (page: Page, name: string) => page.getByRole('complementary', { name });
const state = (page: Page) => page.getByTestId('expected-state');

async function type(page: Page, line: string): Promise<void> {
  await page.keyboard.press('/');
  await page.keyboard.type(line);
  await expect(page.getByTestId('entry-preview')).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('A line that changes the design')).toHaveValue('');
  await page.keyboard.press('Escape');
}

async function follow(page: Page, from: string, to: string): Promise<void> {
  await show(page, 'Trace');
  await page.getByLabel('From: address, router or group').fill(from);
  await page.getByLabel('To: address, router or group').fill(to);
  await page.keyboard.press('Enter');
}

for (const family of [4, 6] as const)
  test(`one-way reach for want of a return route: found, the address that is answered named, and mended; in IPv${family}`, async ({ page }) => {
    await bringNetwork(page, family === 6 ? mirrored(network().documents()) : network().documents());
    const at = (text: string): string => (family === 4 ? text : six(text));
    if (family === 6) await page.keyboard.press('v');
    await follow(page, at('10.98.5.1'), at('10.97.1.20'));
    const told = panel(page, 'What becomes of it');
    await expect(told.getByRole('heading', { level: 2 })).toHaveText('One way only');
    await expect(told).toContainText('is an address of core');
    // Two equal ways there, each of three routers after the first; the answer ends at dune, which has no route back.
    await expect(told.getByText(/^3 routers after the first|3 routers after the first/)).toBeVisible();
    await expect(told).toContainText('dune has no route that holds');
    await expect(told).toContainText('core/pier has it, and OSPF does not speak there');
    const loopback = told.getByRole('listitem').filter({ hasText: 'lo' }).filter({ hasText: 'answered' });
    await expect(loopback.getByRole('button')).toHaveText(at('10.96.0.1'));
    await told.getByRole('button', { name: /core\/pier joins the backbone, passive/ }).click();
    await told.getByRole('button', { name: 'Do it' }).click();
    await expect(told.getByRole('heading', { level: 2 })).toHaveText('There and back');
    // And back again, as nothing was promised.
    await page.getByRole('button', { name: 'Undo', exact: true }).first().click();
    await expect(told.getByRole('heading', { level: 2 })).toHaveText('One way only');
  });

test('a router takes an address by itself; one in a summary that nobody has ends at the discard route', async ({ page }) => {
  await bringNetwork(page);
  await follow(page, 'core', '10.97.200.1');
  const told = panel(page, 'What becomes of it');
  await expect(told.getByRole('heading', { level: 2 })).toHaveText('It does not arrive');
  await expect(told).toContainText('gate summarises 10.97.0.0/16 and has nothing more exact inside it: its discard route takes the packet');
  await expect(told).toContainText(/core takes 10\.96\.128\.[02] by itself/);
  // On the map the way stands out, and the router that drops it says so.
  await expect(page.locator('[data-way]')).toHaveCount(4);
  await expect(page.locator('[data-router="gate"]')).toContainText('is dropped');
  // A host of the lab has one gateway; what is no address is told.
  await follow(page, '10.97.1.77', 'core');
  await expect(told).toContainText('A host behind dune.');
  await expect(told.getByRole('heading', { level: 2 })).toHaveText('There and back');
  await follow(page, 'core', '10.97.1.300');
  await expect(told).toContainText('“10.97.1.300” is no address such as');
  await follow(page, 'core', 'nobody');
  await expect(told).toContainText('no router and no group “nobody”');
});

test('an expectation made from a trace, broken by an edit and named with it, restored by undo', async ({ page }) => {
  await bringNetwork(page);
  await follow(page, 'core', '10.97.1.20');
  await panel(page, 'What becomes of it').getByRole('button', { name: 'Expect this' }).click();
  await page.getByLabel('in words').fill('core reaches the lab');
  await expect(page.getByTestId('form-preview')).toContainText('It holds in the network as it is.');
  await page.getByRole('button', { name: 'Make the change' }).click();
  await expect(state(page)).toHaveText('✓ all 1 expected holds');
  await type(page, 'set cost 30 on core/to-east');
  await type(page, 'delete link gate dune');
  await type(page, 'set cost 40 on core/to-east');
  // Seen from every stage, and one step away.
  await page.keyboard.press('1');
  await expect(state(page)).toHaveText('× 1 of 1 expected broken');
  await state(page).click();
  const about = panel(page, 'About what is expected');
  await expect(about.getByRole('heading', { level: 2 })).toHaveText('core reaches the lab');
  await expect(about.getByTestId('broken-since')).toHaveText('“Link between gate and dune deleted”');
  await about.getByRole('button', { name: /Go back before it \(2 steps\)/ }).click();
  await expect(state(page)).toHaveText('✓ all 1 expected holds');
  await page.getByRole('button', { name: 'Redo', exact: true }).click();
  await expect(about.getByRole('button', { name: 'Undo it' })).toBeVisible();
  await about.getByRole('button', { name: 'Undo it' }).click();
  await expect(state(page)).toHaveText('✓ all 1 expected holds');
});

test('one under any single link, with its counterexample; a group, and the packet that shows it', async ({ page }) => {
  await bringNetwork(page);
  await type(page, 'group "far" of dune east');
  await type(page, 'expect "two ways" reach core far under any-link');
  // The cable to dune is the only one without which a pair parts; east is reached over gate as well.
  await expect(state(page)).toHaveText('× 1 of 1 expected broken');
  await state(page).click();
  const about = panel(page, 'About what is expected');
  await expect(about).toContainText('1 failure breaks it, of 5 tried');
  await expect(about).toContainText('(1 of 2 pairs)');
  await expect(about).toContainText('It did not hold when it was stated.');
  await about.getByRole('button', { name: 'See the packet' }).click();
  const told = panel(page, 'What becomes of it');
  await expect(told.getByRole('heading', { level: 2 })).toHaveText('It does not arrive');
  await expect(told).toContainText('10.97.64.1');
  await expect(page).toHaveURL(/fail=link%3Adune%2Fto-gate/);
  // With the failure gone it arrives.
  await page.keyboard.press('6');
  await page.getByRole('button', { name: 'Restore all' }).click();
  await page.keyboard.press('5');
  await expect(told.getByRole('heading', { level: 2 })).toHaveText('There and back');
});

test('the matrix by keys: everyone reaches everyone, an answer over other routers, and a cell opens its trace', async ({ page }) => {
  await bringNetwork(page);
  await show(page, 'Matrix');
  const says = panel(page, 'What the matrix says');
  await expect(says.getByRole('heading', { level: 2 })).toHaveText('Everyone reaches everyone');
  await expect(says.getByRole('button', { name: /Both ways/ })).toContainText('20');
  const grid = page.getByRole('grid', { name: 'Who reaches whom' });
  await grid.focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowRight');
  await expect(says).toContainText('10.96.0.1 (core) to 10.96.0.2 (east)');
  await expect(says).toContainText('1 router after the first, cost 10.');
  // From core to east it costs less over west and gate now: three routers there, one back.
  await type(page, 'set cost 50 on core/to-east');
  await expect(says.getByRole('heading', { level: 2 })).toHaveText('Back over others');
  await expect(says).toContainText('3 routers after the first, cost 30.');
  await grid.focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'There and back' })).toBeVisible();
  await expect(page).toHaveURL(/from=10\.96\.0\.1&to=10\.96\.0\.2/);
  await page.goBack();
  // LANs against loopbacks: the pier is told to nobody.
  await page.getByLabel('From: which ends').selectOption('typed');
  await page.keyboard.type('10.98.5.0/24');
  await page.keyboard.press('Enter');
  await expect(says.getByRole('button', { name: /One way only/ })).toContainText('4');
  await expect(says.getByRole('button', { name: /Both ways/ })).toContainText('1');
});

test('one prefix in all routers with what is folded where; tables side by side; what another cost would move', async ({ page }) => {
  await bringNetwork(page);
  await show(page, 'One prefix');
  await page.getByLabel('Prefix to look for').fill('10.97.1.0/24');
  await page.keyboard.press('Enter');
  const table = page.getByRole('table', { name: '10.97.1.0/24 in all routers' });
  await expect(table.getByRole('row', { name: /^gate/ })).toContainText(/intra-area20dune/);
  await expect(table.getByRole('row', { name: /^core/ })).toContainText('gate folds it into 10.97.0.0/16.');
  await page.getByRole('button', { name: 'Have it not: 3' }).click();
  await table.getByRole('row', { name: /^core/ }).click();
  await expect(panel(page, 'What this router has of it').getByRole('heading', { level: 2 })).toHaveText('Folded: it has 10.97.0.0/16');
  await panel(page, 'What this router has of it').getByRole('button', { name: '10.97.0.0/16', exact: true }).last().click();
  await expect(page.getByRole('heading', { name: 'Routes of core' })).toBeVisible();
  // By east and by west alike: no neighbour is left over.
  await expect(panel(page, 'Why')).toContainText('Goes to east and west.');
  await type(page, 'set cost 12 on core/to-west');
  await expect(panel(page, 'Why').getByRole('list', { name: 'Ways that lost' })).toContainText('12 + 30 = 42, 2 more than 40');
  await page.getByRole('button', { name: 'Beside OSPF' }).click();
  await expect(page.getByRole('table', { name: 'OSPF beside the table of core' }).getByRole('row', { name: /10\.96\.128\.0\/31/ })).toContainText(
    '0 before 110',
  );
  await show(page, 'Side by side');
  await page.getByLabel('Table of').selectOption('east');
  await page.getByLabel('Beside it, 1').selectOption('west');
  await expect(page.getByRole('table', { name: 'Tables side by side' }).getByRole('row', { name: /^10\.96\.0\.2\/32/ })).toContainText('≠');
  await page.getByRole('button', { name: 'Only what differs' }).click();
  await page.getByLabel('Narrow the prefixes').fill('inside 10.97.0.0/16');
  // Of area 20 both have the one summary, at the same cost.
  await expect(page.getByRole('table', { name: 'Tables side by side' }).getByRole('row')).toHaveCount(2);
  await show(page, 'Tree');
  await page.locator('[data-router="east"]').click();
  const tree = panel(page, 'The tree');
  await expect(tree.getByRole('table', { name: 'The tree, nearest first' }).getByRole('row')).toHaveCount(5);
  await tree.getByRole('button', { name: 'gate', exact: true }).click();
  await tree.getByLabel('Another cost of east/to-gate').fill('99');
  // gate is reached over core and west then, at 10 + 12 + 10; west the other way than before.
  await expect(tree.getByRole('table', { name: 'What moves in the tree' }).getByRole('row', { name: /^gate 10 32 west/ })).toBeVisible();
  await tree.getByRole('button', { name: /^cost 99 on east\/to-gate/ }).click();
  await expect(page.getByTestId('change-strip')).toContainText('cost 99 on east/to-gate');
});

test('five thousand routes: every key counts, the list keeps its place and its focus; what leaves is expected to leave there', async ({ page }) => {
  const c = campus()
    .router('tern-1', '10.96.0.1', 0, { redistribution: [{ source: 'static' }] })
    .router('tern-2', '10.96.0.2', 0)
    .router('tern-3', '10.96.0.3', 0)
    .cable('tern-1', 'tern-2', '10.96.1.0', 0)
    .cable('tern-2', 'tern-3', '10.96.1.2', 0)
    .port('tern-1', 'out', '203.0.113.1/30', null)
    .static('tern-1', '198.51.100.0/24', '203.0.113.2');
  for (let n = 0; n < 5_000; n++) c.static('tern-1', `10.${100 + (n >> 8)}.${n & 255}.0/24`, 'blackhole');
  await openFresh(page, '/?stage=routes');
  await bring(
    page,
    c.documents().map((d) => ({ name: d.file, content: JSON.stringify(d.tree) })),
  );
  await page.getByRole('button', { name: /^tern-3/ }).click();
  // Three loopbacks, two cables, what is reached outside, and all that is dropped there.
  await expect(page.getByText('5006 routes')).toBeVisible();
  await page.getByRole('table').getByRole('row').nth(1).focus();
  for (let n = 0; n < 150; n++) await page.keyboard.press('ArrowDown');
  const focused = page.locator('[role=row]:focus');
  await expect(focused).toHaveAttribute('aria-rowindex', '152');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('complementary', { name: 'Why' })).toBeVisible();
  await expect(focused).toHaveAttribute('aria-rowindex', '152');
  await page.getByLabel('Narrow the routes').fill('inside 10.101.0.0/16');
  await expect(page.getByText('256 of 5006 routes')).toBeVisible();
  await follow(page, 'tern-3', '198.51.100.9');
  await expect(panel(page, 'What becomes of it').getByRole('heading', { level: 2 })).toHaveText('It leaves the design');
  await panel(page, 'What becomes of it').getByRole('button', { name: 'Expect this' }).click();
  await expect(page.getByTestId('form-preview')).toContainText('leaves-by tern-1/out');
  await expect(page.getByTestId('form-preview')).toContainText('It holds in the network as it is.');
});
