import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { openFresh } from './bench';

const places = [
  '/',
  '/?router=kelp-1',
  '/?segment=0',
  '/?stage=neighbours',
  '/?stage=routes&router=kelp-1&prefix=10.96.0.1%2F32',
  '/?stage=failures&fail=router:beacon-1',
];

for (const theme of ['light', 'dark'] as const)
  for (const place of places)
    test(`nothing serious stands in the way of anyone: ${place}, ${theme}`, async ({ page }) => {
      await page.emulateMedia({ colorScheme: theme });
      await openFresh(page, place);
      await page.waitForTimeout(400);
      expect(await page.evaluate(() => document.documentElement.dataset.theme)).toBe(theme);
      const { violations } = await new AxeBuilder({ page }).analyze();
      const serious = violations.filter((v) => v.impact === 'serious' || v.impact === 'critical');
      expect(
        serious.map(
          (v) =>
            `${v.id}: ${v.nodes
              .map((n) => n.target.join(' '))
              .slice(0, 3)
              .join('; ')}`,
        ),
      ).toEqual([]);
    });

/** Serious findings of the audit, in words. */
async function serious(page: Page): Promise<string[]> {
  const { violations } = await new AxeBuilder({ page }).analyze();
  return violations
    .filter((v) => v.impact === 'serious' || v.impact === 'critical')
    .map(
      (v) =>
        `${v.id}: ${v.nodes
          .map((n) => n.target.join(' '))
          .slice(0, 3)
          .join('; ')}`,
    );
}

const opened: readonly (readonly [string, string, (page: Page) => Promise<void>])[] = [
  ['the changes', '/?stage=changes', () => Promise.resolve()],
  ['a table', '/?table=interfaces', () => Promise.resolve()],
  ['the keys', '/', (page) => page.keyboard.press('?')],
  ['quick entry', '/', (page) => page.keyboard.press('/')],
  ['the file menu', '/', (page) => page.getByRole('button', { name: 'Open or export' }).click()],
  ['a form', '/', (page) => page.getByRole('button', { name: /say what the network is for|expect something more/ }).click()],
  [
    'the shelf',
    '/',
    async (page) => {
      await page.getByRole('button', { name: 'Open or export' }).click();
      await page.getByRole('menuitem', { name: /The shelf/ }).click();
    },
  ],
  ['a document', '/?router=kelp-1', (page) => page.getByRole('button', { name: 'Document', exact: true }).click()],
  ['a worksheet', '/?router=kelp-1', (page) => page.getByRole('button', { name: 'Worksheet' }).click()],
];
for (const theme of ['light', 'dark'] as const)
  test(`nothing serious stands in the way of anyone in what is opened, ${theme}`, async ({ page }) => {
    await page.emulateMedia({ colorScheme: theme });
    for (const [what, place, open] of opened) {
      await openFresh(page, place);
      await open(page);
      await page.waitForTimeout(500);
      expect([what, await serious(page)]).toEqual([what, []]);
      expect([what, await page.locator('h1').count()]).toEqual([what, 1]);
    }
  });

test('the focus returns to where it came from when what was opened closes', async ({ page }) => {
  await openFresh(page);
  const expectBack = async (name: string | RegExp, close: () => Promise<void>): Promise<void> => {
    const from = page.getByRole('button', { name }).first();
    await from.focus();
    await page.keyboard.press('Enter');
    await page.waitForTimeout(300);
    await close();
    await page.waitForTimeout(200);
    await expect(from).toBeFocused();
  };
  await expectBack('Type a change', () => page.keyboard.press('Escape'));
  await expectBack(/say what the network is for/, () => page.keyboard.press('Escape'));
  await expectBack(/Open or export/, () => page.keyboard.press('Escape'));
  await expectBack(/^Areas/, () => page.keyboard.press('Escape'));
  // From a menu that is gone meanwhile it returns to the menu's button.
  await page.getByRole('button', { name: 'Open or export' }).click();
  await page.getByRole('menuitem', { name: /The shelf/ }).click();
  await expect(page.getByRole('dialog')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('button', { name: 'Open or export' })).toBeFocused();
});

test('no request leaves the origin, whatever is done', async ({ page, baseURL }) => {
  const foreign: string[] = [];
  page.on('request', (r) => {
    if (!r.url().startsWith(baseURL ?? '') && !/^(blob|data):/.test(r.url())) foreign.push(r.url());
  });
  await openFresh(page);
  for (const key of ['2', '3', '4', '1']) {
    await page.keyboard.press(key);
    await page.waitForTimeout(200);
  }
  await page.getByRole('button', { name: /kelp-1 and kelp-4 stay apart/ }).click();
  await page.getByRole('button', { name: 'Set the dead interval of kelp-4 to 40 s' }).first().click();
  await page.goto('/?stage=failures&fail=router:beacon-1');
  await page.waitForTimeout(500);
  expect(foreign).toEqual([]);
});

test('nothing is cut and the page has no scroll bar at the sizes it must work at', async ({ page }) => {
  for (const size of [
    { width: 1280, height: 800 },
    { width: 1920, height: 1080 },
    { width: 960, height: 600 },
    { width: 640, height: 400 },
  ]) {
    await page.setViewportSize(size);
    for (const place of places) {
      await openFresh(page, place);
      const over = await page.evaluate(() => [
        document.documentElement.scrollWidth - window.innerWidth,
        document.documentElement.scrollHeight - window.innerHeight,
      ]);
      expect(over, `${place} at ${size.width}`).toEqual([0, 0]);
    }
  }
});
