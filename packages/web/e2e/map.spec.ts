import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { openFresh } from './bench';

const plate = (page: Page, name: string) => page.locator(`[data-plate="${name}"]`);
const middle = async (page: Page, name: string): Promise<{ x: number; y: number }> => {
  const box = await plate(page, name).boundingBox();
  if (!box) throw new Error(`${name} is not on the map`);
  return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
};

async function makeCampus(page: Page, routers: number): Promise<void> {
  await openFresh(page);
  await page.getByRole('button', { name: /Open or export/ }).click();
  await page.getByRole('menuitem', { name: 'A made-up campus of any size…' }).click();
  await page.getByRole('dialog').getByLabel('Routers').fill(String(routers));
  await page.keyboard.press('Enter');
  await expect(page.getByText(`${routers} routers,`)).toBeVisible();
}

test('a plate that is moved by hand stays where it was put, after a reload too; undo puts it back', async ({ page }) => {
  await openFresh(page);
  const before = await middle(page, 'harbour-exit');
  await page.mouse.move(before.x, before.y);
  await page.mouse.down();
  await page.mouse.move(before.x + 40, before.y - 30, { steps: 4 });
  await page.mouse.move(before.x + 60, before.y - 50, { steps: 4 });
  await page.mouse.up();
  await expect(page.getByText('harbour-exit placed on the map')).toBeVisible();
  // The strip that tells the change takes some height: the map is a little smaller beside it.
  const near = (a: { x: number; y: number }, b: { x: number; y: number }): boolean => Math.abs(a.x - b.x) < 12 && Math.abs(a.y - b.y) < 24;
  await expect.poll(async () => near(await middle(page, 'harbour-exit'), { x: before.x + 60, y: before.y - 50 })).toBe(true);
  // Moving chooses nothing and changes no route.
  await expect(page.getByRole('heading', { name: '10 things to look at' })).toBeVisible();
  await page.reload();
  await expect(page.getByRole('button', { name: 'Give up 1 place chosen by hand' })).toBeVisible();
  expect(near(await middle(page, 'harbour-exit'), { x: before.x + 60, y: before.y - 50 })).toBe(true);
  // By keyboard: with Alt the arrows move the plate.
  await plate(page, 'harbour-exit').focus();
  await page.keyboard.press('Alt+ArrowLeft');
  await expect(page.getByText('harbour-exit placed on the map')).toBeVisible();
  await expect.poll(async () => (await middle(page, 'harbour-exit')).x).toBeLessThan(before.x + 52);
  await page.getByRole('button', { name: 'Undo' }).first().click();
  await expect.poll(async () => near(await middle(page, 'harbour-exit'), { x: before.x + 60, y: before.y - 50 })).toBe(true);
  await page.getByRole('button', { name: 'Give up 1 place chosen by hand' }).click();
  await expect.poll(async () => near(await middle(page, 'harbour-exit'), before)).toBe(true);
});

test('the map finds routers and subnets, and shows costs, types, addresses or trouble', async ({ page }) => {
  await openFresh(page);
  const map = page.getByRole('group', { name: /^Map of the campus/ });
  await page.keyboard.press('f');
  await page.keyboard.type('10.97.66.');
  const list = page.getByRole('listbox', { name: 'Found' });
  await expect(list.getByRole('option', { name: /LAN slipway/ })).toBeVisible();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('petrel-3');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'petrel-3' })).toBeVisible();
  await expect(plate(page, 'petrel-3')).toBeFocused();
  // It stands in the middle of the window.
  const [at, box] = [await middle(page, 'petrel-3'), await map.boundingBox()];
  expect(Math.abs(at.x - ((box?.x ?? 0) + (box?.width ?? 0) / 2))).toBeLessThan(6);
  const show = (what: string) => page.getByRole('group', { name: 'What the map shows' }).getByRole('button', { name: what, exact: true });
  await show('addresses').click();
  await expect(map.getByText('10.97.193.0/31', { exact: true })).toBeVisible();
  await show('types').click();
  await expect(map.getByText('p2p').first()).toBeAttached();
  await show('trouble').click();
  await expect(plate(page, 'petrel-3').getByText(/\d+ error/)).toBeAttached();
  await show('costs').click();
  await expect(plate(page, 'petrel-3').getByText(/\d+ error/)).toHaveCount(0);
});

test('on a slow machine, too, what is found takes the focus and what is exported is whole', async ({ page }) => {
  const machine = await page.context().newCDPSession(page);
  await openFresh(page);
  await machine.send('Emulation.setCPUThrottlingRate', { rate: 12 });
  await page.reload({ waitUntil: 'commit' });
  // The search stands before the map is filled, and typing does not wait for that; saving does.
  await page.getByLabel('Find on the map').fill('petrel-3');
  await page.keyboard.press('Enter');
  await expect(plate(page, 'petrel-3')).toBeFocused();
  await page.reload({ waitUntil: 'commit' });
  const drawing = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Export the map as SVG' }).click();
  const svg = readFileSync(await (await drawing).path(), 'utf8');
  for (const name of ['beacon-1', 'kelp-5', 'tidepool-4', 'harbour-exit']) expect(svg).toContain(`>${name}</text>`);
});

test('a campus of 300 routers opens with its areas folded; one is laid open by a key, and a search opens what it needs', async ({ page }) => {
  await makeCampus(page, 300);
  const folded = page.locator('[data-area]');
  await expect(folded.first()).toBeVisible();
  const areas = await folded.count();
  expect(areas).toBeGreaterThan(3);
  await expect(folded.first()).toContainText(/\d+ routers, \d+ networks/);
  await expect(plate(page, 'anemone-1')).toHaveCount(0);
  await folded.first().focus();
  await page.keyboard.press('Enter');
  await expect(folded).toHaveCount(areas - 1);
  await expect(plate(page, 'anemone-1')).toBeVisible();
  await expect(plate(page, 'anemone-1')).toBeFocused();
  // A failure inside a folded area is told on its plate.
  await page.keyboard.press('f');
  await page.keyboard.type('cockle-2');
  await page.keyboard.press('Enter');
  await expect(plate(page, 'cockle-2')).toBeFocused();
  await expect(folded).toHaveCount(areas - 2);
  await page.getByRole('button', { name: /^Areas/ }).click();
  await page.getByRole('button', { name: 'Fold all', exact: true }).click();
  await expect(folded).toHaveCount(areas);
  await page.goto('/?stage=failures&fail=router:cockle-2');
  await expect(page.locator('[data-area]', { hasText: '1 down' })).toHaveCount(1);
  // What is exported is what is seen.
  await page.goto('/');
  await expect(folded).toHaveCount(areas);
  const [svg] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Export the map as SVG' }).click()]);
  expect(readFileSync(await svg.path(), 'utf8')).toMatch(/57 routers|\d+ routers, \d+ networks/);
});
