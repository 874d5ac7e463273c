import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { openFresh } from './bench';

const places = [
  '/',
  '/?router=kelp-1',
  '/?segment=0',
  '/?stage=neighbours',
  '/?stage=neighbours&face=up',
  '/?stage=neighbours&meet=leading',
  '/?stage=neighbours&meet=part&router=kelp-1',
  '/?stage=neighbours&meet=alike',
  '/?stage=neighbours&meet=costs',
  '/?stage=areas',
  '/?stage=areas&show=types&area=20',
  '/?stage=areas&show=databases&router=kelp-1&beside=petrel-4',
  '/?stage=areas&show=reach&prefix=10.97.64.0%2F18',
  '/?stage=areas&show=outside',
  '/?stage=areas&show=filters&router=kelp-1&prefix=10.97.64.0%2F18',
  '/?stage=summaries&area=20',
  '/?stage=summaries&area=30&family=6',
  '/?stage=summaries&part=outside',
  '/?stage=summaries&part=cost&area=10',
  '/?stage=summaries&part=dangers',
  '/?stage=routes&router=kelp-1&prefix=10.96.0.1%2F32',
  '/?stage=routes&look=beside&router=kelp-1&beside=kelp-2,drydock-1',
  '/?stage=routes&look=prefix&prefix=10.97.66.0%2F24&router=kelp-5',
  '/?stage=routes&look=tree&router=kelp-1',
  '/?stage=routes&look=trace&from=tidepool-3&to=10.97.12.20',
  '/?stage=routes&look=matrix',
  '/?stage=routes&look=expected',
  '/?stage=failures&fail=router:beacon-1',
  '/?stage=failures&tell=time',
  '/?stage=failures&tell=every',
  '/?stage=failures&tell=load',
  '/?stage=failures&tell=repair',
  '/?stage=failures&tell=time&fail=link:drydock-1/slipway&router=kelp-1',
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

for (const theme of ['light', 'dark'] as const)
  test(`nothing serious in the panels beside the strip, ${theme}`, async ({ page }) => {
    await page.emulateMedia({ colorScheme: theme });
    await openFresh(page, '/?stage=failures&tell=time&fail=link:drydock-1/slipway');
    await expect(page.getByTestId('verdict')).toContainText('new after');
    for (const part of ['Moment', 'Events', 'Tune', 'Runs', 'Times']) {
      await page.getByRole('button', { name: part, exact: true }).click();
      if (part === 'Tune') {
        await page.getByLabel('SPF schedule').selectOption('fixed');
        await expect(page.getByTestId('tuned')).toBeVisible();
      }
      if (part === 'Runs') await expect(page.getByRole('img', { name: /^Last change of all tables/ })).toBeVisible();
      expect([part, ...(await serious(page))]).toEqual([part]);
    }
    await page.getByRole('button', { name: 'Map then' }).click();
    expect(await serious(page)).toEqual([]);
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
  [
    'the blueprint',
    '/',
    async (page) => {
      await page.getByRole('button', { name: 'Open or export' }).click();
      await page.getByRole('menuitem', { name: /^Blueprint/ }).click();
      await page.getByRole('heading', { name: 'Blueprint' }).waitFor();
    },
  ],
  ['the keys', '/', (page) => page.keyboard.press('?')],
  ['quick entry', '/', (page) => page.keyboard.press('/')],
  ['the file menu', '/', (page) => page.getByRole('button', { name: 'Open or export' }).click()],
  ['a table beside OSPF', '/?stage=routes&router=kelp-1', (page) => page.getByRole('button', { name: 'Beside OSPF' }).click()],
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
  for (const key of ['2', '3', '4', '5', '6', '1']) {
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
  test.setTimeout(300_000);
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

/** Controls that cannot be reached: scrolled to, something else lies over them, or they stand outside of the window. */
const outOfReach = (page: Page): Promise<string[]> =>
  page.evaluate(() => {
    const dialog = document.querySelector('[role=dialog], [role=menu]');
    return [...(dialog ?? document).querySelectorAll<HTMLElement>('button, a[href], input, select, textarea, [role=tab], [role^=menuitem]')].flatMap(
      (el) => {
        const { width, height } = el.getBoundingClientRect();
        if (el.hidden || width * height === 0) return [];
        el.scrollIntoView({ block: 'nearest', inline: 'nearest' });
        const at = el.getBoundingClientRect();
        const hit = document.elementFromPoint(at.left + at.width / 2, at.top + at.height / 2);
        const reached = hit !== null && (el.contains(hit) || hit.contains(el) || hit.closest('label')?.contains(el) === true);
        if (reached && at.left >= -1 && at.right <= innerWidth + 1 && at.top >= -1 && at.bottom <= innerHeight + 1) return [];
        return [`${el.getAttribute('aria-label') ?? el.textContent.trim().slice(0, 40)} at ${Math.round(at.left)}, ${Math.round(at.top)}`];
      },
    );
  });

for (const [width, height] of [
  [640, 400],
  [800, 500],
] as const)
  test(`at ${width} x ${height}, as at 200 % zoom, every control of every view, menu and dialog can be reached`, async ({ page }) => {
    test.setTimeout(300_000);
    await page.setViewportSize({ width, height });
    for (const place of [...places, '/?stage=changes', '/?table=interfaces']) {
      await openFresh(page, place);
      expect([place, await outOfReach(page)]).toEqual([place, []]);
    }
    for (const [what, place, open] of opened) {
      await openFresh(page, place);
      await open(page);
      await page.waitForTimeout(300);
      expect([what, await outOfReach(page)]).toEqual([what, []]);
    }
  });

const never = 'new Promise(() => undefined)';
test.describe('whatever is refused or does not answer, the page has words', () => {
  const refusals: readonly (readonly [string, string, RegExp])[] = [
    ['the store does not answer', `IDBFactory.prototype.open = () => new EventTarget()`, /longer than it should/],
    ['workers are refused', `window.Worker = class { constructor() { throw new Error('No workers here.') } }`, /No workers here/],
    ['workers do not answer', `window.Worker = class extends EventTarget { postMessage() {} terminate() {} }`, /longer than it should/],
    ['the sample does not come', `window.fetch = () => ${never}`, /Opening Saltmarsh Point.*longer than it should/s],
    ['the sample is refused', `window.fetch = () => Promise.reject(new TypeError('No network.'))`, /No network/],
    ['settings are refused', `Object.defineProperty(window, 'localStorage', { get() { throw new Error('No settings.') } })`, /20 routers/],
    ['channels are refused', `window.BroadcastChannel = class { constructor() { throw new Error('No channels.') } }`, /does not let tabs speak/],
  ];
  for (const [what, script, words] of refusals)
    test(what, async ({ page }) => {
      await page.addInitScript(script);
      const begun = Date.now();
      await page.goto('/');
      await expect(page.locator('body')).toContainText(words, { useInnerText: true });
      test.info().annotations.push({ type: 'words after', description: `${Date.now() - begun} ms` });
    });

  test('its scripts do not come', async ({ page }) => {
    await page.route('**/*.js', () => undefined);
    await page.goto('/', { waitUntil: 'commit' });
    await expect(page.locator('main')).toContainText(/Opening the chart.*longer than it should/s, { useInnerText: true });
  });

  test('scripts are not allowed', async ({ browser, baseURL }) => {
    const context = await browser.newContext({ javaScriptEnabled: false, baseURL: baseURL ?? '' });
    const page = await context.newPage();
    await page.goto('/');
    await expect(page.locator('noscript p')).toHaveText(/allow its scripts/);
    await expect(page.locator('noscript p')).toBeVisible();
    await context.close();
  });
});
