import { expect, test } from '@playwright/test';
import { openFresh } from './bench';

test('a campus of 500 routers is an outline from far off, and plates with names where one looks', async ({ page }) => {
  await openFresh(page);
  await page.getByRole('button', { name: /Open or export/ }).click();
  await page.getByRole('menuitem', { name: /A made-up campus/ }).click();
  await page.getByLabel('Routers').fill('500');
  await page.getByLabel('Areas').fill('12');
  await page.getByRole('button', { name: 'Make and open it' }).click();
  await expect(page.getByText('500 routers, 13 areas')).toBeVisible();
  await page.getByRole('button', { name: /^Areas/ }).click();
  await page.getByRole('button', { name: 'Unfold all' }).click();
  await page.keyboard.press('Escape');
  const plates = page.locator('[data-router]');
  // From far off only the plate that the keyboard begins at.
  await expect(plates).toHaveCount(1);
  const outline = page.locator('main svg path.cursor-pointer');
  await expect(outline).toBeVisible();
  await expect(page.locator('main svg').getByText('Backbone').last()).toBeVisible();
  // A plate of the outline can be chosen: the panel opens, and the plate is drawn.
  const at = await outline.evaluate((path: SVGPathElement) => {
    const first = /M([\d.-]+) ([\d.-]+)/.exec(path.getAttribute('d') ?? '');
    const p = new DOMPoint(Number(first?.[1]) + 10, Number(first?.[2]) + 8).matrixTransform(path.getScreenCTM() ?? new DOMMatrix());
    return { x: p.x, y: p.y };
  });
  await page.mouse.click(at.x, at.y);
  await expect(page.getByRole('complementary', { name: 'What is chosen' }).getByRole('heading', { name: 'Interfaces' })).toBeVisible();
  await expect(page.locator('[data-router][aria-pressed="true"]')).toHaveCount(1);
  // Nearer, where the mouse is, the neighbourhood is drawn in full.
  for (let i = 0; i < 14 && (await plates.count()) < 10; i++) {
    await page.getByRole('button', { name: 'Zoom in' }).click();
    await page.waitForTimeout(150);
  }
  await expect(outline).toHaveCount(0);
  expect(await plates.count()).toBeGreaterThan(9);
  for (let i = 0; i < 5; i++) await page.getByRole('button', { name: 'Zoom in' }).click();
  await expect.poll(() => plates.count()).toBeLessThan(500);
  await page.getByRole('button', { name: 'Fit', exact: true }).click();
  await expect(outline).toBeVisible();
  // A list of many pairs shows some at first, and every one that is asked for.
  await page.keyboard.press('2');
  await expect(page.getByText(/more pairs: narrow them by a name/)).toBeVisible();
  await expect(page.locator('[data-pair]')).toHaveCount(200);
  await page.getByRole('button', { name: 'show 200 more' }).click();
  await expect(page.locator('[data-pair]')).toHaveCount(400);
  // Tables are chosen from a list that draws what is in sight, is searched by name, and follows the arrow keys.
  await page.keyboard.press('5');
  const names = page.getByRole('list', { name: 'Routers' });
  await expect.poll(() => names.getByRole('listitem').count()).toBeLessThan(80);
  await page.getByLabel('Find a router in the list').fill('beacon');
  await expect(names.getByRole('button', { name: /^anemone/ })).toHaveCount(0);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Routes of beacon-1' })).toBeVisible();
  await page.getByLabel('Find a router in the list').fill('nobody at all');
  await expect(page.getByText('No router has that in its name.')).toBeVisible();
  await page.getByLabel('Find a router in the list').fill('');
  // The one whose table is shown is in sight again, and the next is one key away.
  await names.getByRole('button', { name: /^beacon-1\b/ }).focus();
  await page.keyboard.press('ArrowDown');
  await expect(page.getByRole('heading', { name: 'Routes of beacon-2' })).toBeVisible();
  await expect(names.locator('[aria-current=true]')).toBeFocused();
  await page.keyboard.press('End');
  await expect(page.getByRole('heading', { name: 'Routes of beacon-2' })).toBeHidden();
  await expect(names.locator('[aria-current=true]')).toBeFocused();
});
