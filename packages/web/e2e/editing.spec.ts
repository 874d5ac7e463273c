import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { openFresh } from './bench';

interface Kept {
  readonly documents: readonly { readonly file: string; readonly document: unknown }[];
  readonly steps: readonly { readonly n: number; readonly title: string }[];
  readonly design: { readonly id: string; readonly name: string; readonly position: number; readonly files: readonly string[] };
}

/** What the browser keeps of the open design, read past the application. */
const kept = (page: Page): Promise<Kept> =>
  page.evaluate(
    () =>
      new Promise<Kept>((done, failed) => {
        const request = indexedDB.open('gentle-compass');
        request.onerror = () => failed(new Error('no database'));
        request.onsuccess = () => {
          const db = request.result;
          const tx = db.transaction(['designs', 'documents', 'steps', 'settings']);
          const out: Record<string, unknown> = {};
          const open = tx.objectStore('settings').get('open');
          open.onsuccess = () => {
            const id = (open.result as { value: string }).value;
            const design = tx.objectStore('designs').get(id);
            design.onsuccess = () => {
              out.design = design.result as unknown;
            };
            for (const name of ['documents', 'steps'] as const) {
              const rows = tx.objectStore(name).index('design').getAll(id);
              rows.onsuccess = () => {
                out[name] = rows.result as unknown;
              };
            }
          };
          tx.oncomplete = () => {
            db.close();
            done(out as unknown as Kept);
          };
        };
      }),
  );

const words = (k: Kept): string => JSON.stringify(k.documents.map((d) => [d.file, (d.document as { tree: unknown }).tree]));
const line = (page: Page) => page.getByRole('combobox', { name: 'A line that changes the design' });
/** What is kept is looked at often: a test waits no longer than the page does. */
const soon = { intervals: [30] };
const steps = async (page: Page): Promise<number> => (await kept(page)).design.position;

/** Types a line of quick entry that is open, and waits until the change is kept. */
async function enter(page: Page, text: string, n: number): Promise<void> {
  await expect(line(page)).toBeFocused();
  await page.keyboard.type(text);
  await page.keyboard.press('Enter');
  await expect(line(page)).toHaveValue('');
  await expect.poll(() => steps(page), soon).toBe(n);
}

/** Presses a key until something that fits has the focus; waits after each press until the focus has moved, as menus move it a moment later. */
async function tabTo(page: Page, name: RegExp, key = 'Tab'): Promise<void> {
  for (let i = 0; i < 60; i++) {
    const before = await page.evaluateHandle(() => document.activeElement);
    if (name.test(await before.evaluate((e) => e?.textContent ?? ''))) return;
    await page.keyboard.press(key);
    await page.waitForFunction((e) => document.activeElement !== e, before, { timeout: 5000 });
  }
  throw new Error(`nothing with ${String(name)} takes the focus`);
}

async function openEmpty(page: Page): Promise<void> {
  await openFresh(page);
  await tabTo(page, /^Open or export/);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('menuitem', { name: 'An empty design' })).toBeVisible();
  await tabTo(page, /^An empty design$/, 'ArrowDown');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'An empty chart' })).toBeVisible();
}

const tenRouters = [
  ...['skerry-1', 'skerry-2'].map((n) => `router ${n}`),
  'link skerry-1 skerry-2 cost 5',
  'router gull-gate-1',
  'router gull-gate-2',
  'router reef-gate-1',
  'router reef-gate-2',
  'link skerry-1 gull-gate-1',
  'link skerry-2 gull-gate-2',
  'link skerry-1 reef-gate-1',
  'link skerry-2 reef-gate-2',
  'router gull-1 area 10',
  'link gull-gate-1 gull-1 area 10',
  'link gull-gate-2 gull-1 area 10',
  'clone gull-1 as gull-2',
  'router reef-1 area 20',
  'link reef-gate-1 reef-1 area 20',
  'link reef-gate-2 reef-1 area 20',
  'clone reef-1 as reef-2',
  'lan nests on gull-1 gull-2 length 26',
  'set area-type stub on area 10',
  'set priority 100 on gull-1/nests',
];

test('a campus of ten routers grows from an empty page by keyboard alone', async ({ page }) => {
  await openEmpty(page);
  await page.keyboard.press('/');
  let n = 0;
  for (const l of tenRouters) await enter(page, l, ++n);
  await page.keyboard.press('Escape');
  await expect(page.getByText('10 routers, 3 areas')).toBeVisible();
  await expect(page.getByText('14 pairs of neighbours full, 0 in trouble')).toBeVisible();
  // It is there after a reload, and so are its steps.
  await page.reload();
  await expect(page.getByText('10 routers, 3 areas')).toBeVisible();
  await page.keyboard.press('7');
  await expect(page.getByRole('heading', { name: `${tenRouters.length} changes` })).toBeVisible();
});

const mixed = [
  'router dulse-1 area 10',
  'link dulse-1 kelp-1 cost 20',
  'link dulse-1 kelp-2 cost 20',
  'clone dulse-1 as dulse-2',
  'set hello 5 on dulse-1',
  'set hello 5 on dulse-*',
  'clear hello on dulse-1',
  'set cost 33 on kelp-1/to-kelp-3',
  'lan hatchery on dulse-1 dulse-2',
  'rename dulse-2 as sole-1',
  'renumber dulse-1/hatchery',
  'set area-type totally-stubby on area 20',
  'range 10.97.0.0/18 area 10 cost 700',
  'move sole-1 to 20',
  'pool links 10.100.0.0/20',
  'link beacon-1 beacon-2',
  'leave kelp-3/library',
  'join kelp-3/library area 10 passive',
  'delete router petrel-4',
  'set passive yes on kelp-4',
  'set reference-bandwidth 400000 on all',
  'clear cost on all',
  'delete interface dulse-1/hatchery',
  'set mtu 1400 on beacon-1/to-kelp-1',
  'delete router sole-1',
];

test('fifty mixed edits are undone and done again, to the very documents', async ({ page }) => {
  test.setTimeout(180_000);
  await openFresh(page);
  const first = words(await kept(page));
  await page.keyboard.press('/');
  let n = 0;
  for (const l of mixed) await enter(page, l, ++n);
  for (const l of mixed.slice(0, 25))
    await enter(
      page,
      l
        .replaceAll('dulse', 'laver')
        .replace('sole', 'plaice')
        .replace('hatchery', 'nursery')
        .replace('10.100', '10.101')
        .replace('petrel-4', 'petrel-3')
        .replace('1400', '1300')
        .replace('cost 33', 'cost 44')
        .replace('library', 'halls')
        .replace('totally-stubby', 'nssa')
        .replace('cost 700', 'cost 800')
        .replace('400000', '200000')
        .replace('yes on kelp-4', 'yes on kelp-5')
        .replace('clear cost on all', 'set cost 77 on all')
        .replace('link beacon-1 beacon-2', 'link beacon-1 kelp-4 area 10'),
      ++n,
    );
  await page.keyboard.press('Escape');
  const last = words(await kept(page));
  expect(last).not.toBe(first);
  for (; n > 0;) {
    await page.keyboard.press('Control+z');
    await expect.poll(() => steps(page), soon).toBe(--n);
  }
  expect(words(await kept(page))).toBe(first);
  await page.reload();
  await expect(page.getByRole('button', { name: 'Redo' })).toBeEnabled();
  await page.keyboard.press('7');
  await page
    .getByRole('button', { name: /^redo to here/ })
    .first()
    .click();
  await expect.poll(() => steps(page), soon).toBe(50);
  expect(words(await kept(page))).toBe(last);
});

/** Ends a browser as a power cut would: every process of its profile at once. */
function killBrowser(profile: string): void {
  const ids = execFileSync('pgrep', ['-f', profile], { encoding: 'utf8' }).trim().split('\n').map(Number);
  for (const id of ids)
    try {
      process.kill(id, 'SIGKILL');
    } catch {
      // It has gone with its parent.
    }
}

test('a browser that is killed again and again in mid-edit loses at most the edit in flight', async ({ playwright, launchOptions, baseURL }) => {
  const rounds = Number(process.env['KILLS'] ?? 12);
  test.setTimeout(60_000 + rounds * 20_000);
  const profile = mkdtempSync(join(tmpdir(), 'gentle-compass-killed-'));
  let before = 0;
  let takes = 0;
  let id: string | undefined;
  for (let round = 0; round < rounds; round++) {
    const context = await playwright.chromium.launchPersistentContext(profile, { ...launchOptions, baseURL: baseURL ?? '' });
    const page = await context.newPage();
    await openFresh(page);
    const now = await kept(page);
    expect([before, before + 1]).toContain(now.design.position);
    id ??= now.design.id;
    expect(now.design.id).toBe(id);
    expect(now.steps.map((s) => s.n)).toEqual([...Array(now.design.position).keys()]);
    // Whole: every file that the design names is there, and what the steps made.
    expect(now.documents.map((d) => d.file).sort()).toEqual([...now.design.files].sort());
    expect(now.documents.filter((d) => d.file.startsWith('wreck-'))).toHaveLength(now.design.position);
    await expect(page.getByText(`${20 + now.design.position} routers, 5 areas`)).toBeVisible();
    before = now.design.position;
    const begun = Date.now();
    await page.keyboard.press('/');
    await line(page).fill(`router wreck-${round} area 10`);
    await line(page).press('Enter');
    // The first edit is waited for, and says how long one takes here; the others are ended before, while and after they are written.
    if (round === 0) {
      await expect.poll(async () => (await kept(page)).design.position, { intervals: [10] }).toBe(1);
      takes = Date.now() - begun;
    } else await page.waitForTimeout((takes * 1.5 * (round % 6)) / 5);
    killBrowser(profile);
    await context.close().catch(() => undefined);
  }
  expect(before).toBeGreaterThan(0);
  rmSync(profile, { recursive: true, force: true });
});

/** Workers of a page that are ended from without, whatever they are doing. */
interface Ended extends Window {
  endWorkers: () => void;
}

for (const what of ['tab', 'worker'] as const)
  test(`a ${what} that is killed again and again in mid-edit loses at most the edit in flight`, async ({ context }) => {
    const rounds = Number(process.env['KILLS'] ?? 6);
    test.setTimeout(60_000 + rounds * 10_000);
    await context.addInitScript(() => {
      const workers: Worker[] = [];
      window.Worker = class extends Worker {
        constructor(...of: ConstructorParameters<typeof Worker>) {
          super(...of);
          workers.push(this);
        }
      };
      (window as unknown as Ended).endWorkers = () => workers.forEach((w) => w.terminate());
    });
    let page = await context.newPage();
    await openFresh(page);
    // How long an edit takes here and now, until it is kept: the rounds end theirs before, while and after that.
    const begun = Date.now();
    await page.keyboard.press('/');
    await line(page).fill('router wreck-1 area 10');
    await line(page).press('Enter');
    await expect.poll(async () => (await kept(page)).design.position, { intervals: [10] }).toBe(1);
    const takes = Date.now() - begun;
    let before = 1;
    for (let round = 0; round < rounds; round++) {
      await openFresh(page);
      const now = await kept(page);
      expect([before, before + 1]).toContain(now.design.position);
      expect(now.steps.map((s) => s.n)).toEqual([...Array(now.design.position).keys()]);
      expect(now.documents.map((d) => d.file).sort()).toEqual([...now.design.files].sort());
      before = now.design.position;
      // One router more and one less, so that the campus stays as large as it is.
      const made = now.documents.some((d) => d.file.startsWith('wreck-'));
      expect(now.documents.filter((d) => d.file.startsWith('wreck-'))).toHaveLength(now.design.position % 2);
      await expect(page.getByText(`${made ? 21 : 20} routers, 5 areas`)).toBeVisible();
      await page.keyboard.press('/');
      await line(page).fill(made ? 'delete router wreck-1' : 'router wreck-1 area 10');
      await line(page).press('Enter');
      await page.waitForTimeout((takes * 1.5 * (round % 6)) / 5);
      if (what === 'worker') {
        await page.evaluate(() => (window as unknown as Ended).endWorkers());
        continue;
      }
      const devices = await context.newCDPSession(page);
      const crashed = page.waitForEvent('crash');
      void devices.send('Page.crash').catch(() => undefined);
      await crashed;
      const next = await context.newPage();
      await page.close();
      page = next;
    }
    test.info().annotations.push({ type: 'edits that were kept', description: `${before - 1} of ${rounds}, of ${takes} ms each` });
  });

test('two tabs on one design follow each other, and neither overwrites the other', async ({ context, page }) => {
  await openFresh(page);
  const other = await context.newPage();
  await openFresh(other);
  await page.keyboard.press('/');
  await enter(page, 'router wreck-1 area 10', 1);
  await expect(other.getByTestId('notice')).toContainText('Changed in another tab');
  await expect(other.getByText('21 routers, 5 areas')).toBeVisible();
  await other.keyboard.press('/');
  await enter(other, 'router wreck-2 area 10', 2);
  await expect(page.getByText('22 routers, 5 areas')).toBeVisible();
  // Both at once: what is not made is told.
  await line(page).fill('router wreck-3 area 10');
  await line(other).fill('router wreck-4 area 10');
  await Promise.all([line(page).press('Enter'), line(other).press('Enter')]);
  await expect.poll(async () => (await kept(page)).design.position).toBeGreaterThan(2);
  await page.waitForTimeout(1000);
  const now = await kept(page);
  const refused = (await Promise.all([page, other].map((p) => p.getByText('your last change was not made').count()))).reduce((a, b) => a + b);
  expect(now.design.position + refused).toBe(4);
  const shown = `${20 + now.design.position} routers, 5 areas`;
  await expect(page.getByText(shown)).toBeVisible();
  await expect(other.getByText(shown)).toBeVisible();
  // Undo in one tab is an undo in both.
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+z');
  await expect(other.getByText(`${19 + now.design.position} routers, 5 areas`)).toBeVisible();
});

test('lines typed one after the other without waiting are all made, in their order', async ({ page }) => {
  test.setTimeout(180_000);
  await openFresh(page);
  await page.keyboard.press('/');
  await expect(line(page)).toBeFocused();
  for (let n = 1; n <= 12; n++) {
    await page.keyboard.type(`router wreck-${n} area 10`);
    await page.keyboard.press('Enter');
    await page.keyboard.type(`link wreck-${n} kelp-1`);
    await page.keyboard.press('Enter');
  }
  // What is claimed is that none is lost, not how long it takes.
  await expect(page.getByText('32 routers, 5 areas')).toBeVisible({ timeout: 45_000 });
  await page.keyboard.press('Escape');
  await expect.poll(() => steps(page), { ...soon, timeout: 45_000 }).toBe(24);
  const now = await kept(page);
  expect(now.steps.map((s) => s.title.split(' ').slice(0, 2).join(' '))).toEqual(
    [...Array(12).keys()].flatMap((n) => [`Router wreck-${n + 1}`, `Link wreck-${n + 1}`]),
  );
  // Undone as fast, everything is as it was.
  for (let n = 0; n < 24; n++) await page.keyboard.press('Control+z');
  await expect.poll(() => steps(page), { ...soon, timeout: 45_000 }).toBe(0);
  await expect(page.getByText('20 routers, 5 areas')).toBeVisible();
});

test('a browser that refuses to keep a change says so, offers the export, and keeps it when it can again', async ({ page }) => {
  await page.addInitScript(() => {
    const put = Object.getOwnPropertyDescriptor(IDBObjectStore.prototype, 'put')?.value as IDBObjectStore['put'];
    IDBObjectStore.prototype.put = function (this: IDBObjectStore, ...args: Parameters<IDBObjectStore['put']>) {
      if ((window as unknown as { full?: boolean }).full) throw new DOMException('The quota has been exceeded.', 'QuotaExceededError');
      return put.apply(this, args);
    };
  });
  await openFresh(page);
  await page.evaluate(() => {
    (window as unknown as { full: boolean }).full = true;
  });
  await page.keyboard.press('/');
  await page.keyboard.type('router wreck-1 area 10');
  await page.keyboard.press('Enter');
  const alert = page.getByRole('alert').filter({ hasText: 'not kept in the browser' });
  await expect(alert).toContainText('its storage is full');
  // It goes on working, and what is exported holds the change.
  await expect(page.getByText('21 routers, 5 areas')).toBeVisible();
  await page.keyboard.type('router wreck-2 area 10');
  await page.keyboard.press('Enter');
  await expect(page.getByText('22 routers, 5 areas')).toBeVisible();
  await page.keyboard.press('Escape');
  const download = page.waitForEvent('download');
  await alert.getByRole('button', { name: 'Export it' }).click();
  expect(readFileSync(await (await download).path(), 'utf8')).toContain('wreck-2');
  expect((await kept(page)).design.position).toBe(0);
  await page.evaluate(() => {
    (window as unknown as { full: boolean }).full = false;
  });
  await alert.getByRole('button', { name: 'Keep it again' }).click();
  await expect(alert).toBeHidden();
  await page.reload();
  await expect(page.getByText('22 routers, 5 areas')).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByText('21 routers, 5 areas')).toBeVisible();
});

test('a browser without any storage opens the sample, works, and says that nothing is kept', async ({ page }) => {
  await page.addInitScript(() => {
    IDBFactory.prototype.open = () => {
      throw new DOMException('Storage is switched off.', 'SecurityError');
    };
  });
  await openFresh(page);
  await expect(page.getByRole('alert').filter({ hasText: 'not kept in the browser' })).toContainText('Storage is switched off');
  await page.keyboard.press('/');
  await page.keyboard.type('router wreck-1 area 10');
  await page.keyboard.press('Enter');
  await expect(page.getByText('21 routers, 5 areas')).toBeVisible();
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+z');
  await expect(page.getByText('20 routers, 5 areas')).toBeVisible();
});

test('what could not be read at the start is not written over, and is there the next time', async ({ page }) => {
  await openFresh(page);
  await page.keyboard.press('/');
  await enter(page, 'router wreck-1 area 10', 1);
  // The store stays locked for longer than it is tried at the start.
  await page.addInitScript(() => {
    const whole = Object.getOwnPropertyDescriptor(IDBFactory.prototype, 'open')?.value as IDBFactory['open'];
    let opened = 0;
    IDBFactory.prototype.open = function (this: IDBFactory, ...args: Parameters<IDBFactory['open']>) {
      if (!sessionStorage.getItem('read') && opened++ < 4) throw new DOMException('The store is locked.', 'UnknownError');
      return whole.apply(this, args);
    };
  });
  await page.reload();
  await expect(page.getByText('20 routers, 5 areas')).toBeVisible();
  await expect(page.getByRole('alert').filter({ hasText: 'not kept in the browser' })).toContainText('could not be read (The store is locked.)');
  await page.evaluate(() => sessionStorage.setItem('read', 'yes'));
  await page.reload();
  await expect(page.getByText('21 routers, 5 areas')).toBeVisible();
});

test('a variant is compared with the design that it came from, and a version with now', async ({ page }) => {
  await openFresh(page);
  await page.getByRole('button', { name: /Open or export/ }).click();
  await page.getByRole('menuitem', { name: /The shelf/ }).click();
  await page.getByLabel('Name of the variant').fill('Kelp as a stub');
  await page.getByRole('button', { name: 'Duplicate as variant' }).click();
  await expect(page.locator('header').getByText('Kelp as a stub')).toBeVisible();
  await page.keyboard.press('7');
  await page.getByLabel('Name of this version').fill('before the stub');
  await page.getByRole('button', { name: 'Keep this state' }).click();
  await expect(page.getByRole('list', { name: 'Versions' }).getByText('before the stub')).toBeVisible();
  await page.keyboard.press('Escape');
  await page.getByRole('heading', { name: 'Nothing is compared yet' }).click();
  await page.keyboard.press('/');
  await enter(page, 'set area-type stub on area 10', 1);
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Compared with' }).click();
  await page.getByRole('menuitem', { name: 'Saltmarsh Point, before review' }).click();
  await expect(page.getByRole('heading', { name: 'Now, compared with Saltmarsh Point, before review' })).toBeVisible();
  const comparison = page.getByRole('region', { name: 'Comparison' });
  await expect(comparison.getByText('stub-area').first()).toBeVisible();
  await expect(comparison.getByText(/Area 10: normal.* → stub/)).toBeVisible();
  await expect(comparison.getByRole('button', { name: 'kelp-3' })).toBeVisible();
  // The same choice holds in every stage: the table marks what changed.
  await comparison.getByRole('button', { name: 'kelp-3' }).click();
  await expect(page.getByText('compared with Saltmarsh Point, before review', { exact: false }).first()).toBeVisible();
  await expect(
    page
      .getByRole('table')
      .getByRole('cell', { name: /^(lost|changed|gained)$/ })
      .first(),
  ).toBeVisible();
  await page.keyboard.press('1');
  await expect(page.getByRole('button', { name: /^kelp-3, .*±\d+ routes/ })).toBeVisible();
  await page.keyboard.press('7');
  await page.getByRole('list', { name: 'Versions' }).getByRole('button', { name: 'go back to it' }).click();
  await expect.poll(() => steps(page), soon).toBe(2);
  await expect(page.getByText('Every document is the same.')).toBeVisible();
  // The shelf tells both apart, with the last prediction of each.
  await page.getByRole('button', { name: /Open or export/ }).click();
  await page.getByRole('menuitem', { name: /The shelf/ }).click();
  const shelf = page.getByRole('list', { name: 'Kept designs' });
  await expect(shelf.getByText('a variant of Saltmarsh Point, before review')).toBeVisible();
  await expect(shelf.getByText(/20 routers, 5 areas, \d+ routes/)).toHaveCount(2);
  await shelf.getByRole('button', { name: 'Open Saltmarsh Point, before review' }).click();
  await expect(page.locator('header').getByText('Saltmarsh Point, before review')).toBeVisible();
});

test('panel and document are one: each shows what the other changed, and what cannot be is refused with place and reason', async ({ page }) => {
  await openFresh(page, '/?router=kelp-1');
  const panel = page.getByRole('complementary', { name: 'What is chosen' });
  await panel.getByRole('button', { name: 'Document', exact: true }).click();
  const editor = page.getByRole('textbox', { name: 'Text of kelp-1.json' });
  await expect(editor).toContainText('"hostname": "kelp-1"');
  // The finding stands where the document puts the interface into OSPF: its second line of that name, and the brace before it.
  const text = readFileSync('../../demo/saltmarsh-point-before-review/kelp-1.json', 'utf8').split('\n');
  const named = text.flatMap((l, n) => (l.includes('"name": "to-kelp-4"') ? [n + 1] : []));
  await expect(page.getByTestId('typed-state')).toContainText(`line ${(named[1] ?? 0) - 1}`);
  await panel.getByRole('button', { name: /^to-kelp-3/ }).click();
  const cost = panel.getByLabel('cost');
  await expect(cost).toHaveValue('20');
  await cost.fill('70000');
  await cost.press('Enter');
  await expect(panel.getByRole('alert')).toContainText('"70000" is no cost: it is a whole number from 1 to 65,535');
  await cost.fill('55');
  await cost.press('Enter');
  await expect.poll(() => steps(page), soon).toBe(1);
  await expect(cost).toHaveValue('55');
  await expect(panel.getByRole('alert')).toHaveCount(0);
  // As text: what is typed is read at once.
  await editor.click();
  await page.keyboard.press('Control+f');
  await page.keyboard.type('"cost": 55');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Escape');
  // In one stroke: typed letter by letter on a busy machine, it may be undone in parts.
  await page.keyboard.insertText('"cost": "dear"');
  await expect(page.getByTestId('typed-state')).toContainText(/line \d+, column \d+.*"dear" is not a whole number from 1 to 65,535/);
  await expect(page.getByRole('button', { name: 'Apply' })).toBeDisabled();
  await page.keyboard.press('Control+z');
  await expect(editor).not.toContainText('dear');
  await page.keyboard.press('Control+f');
  await page.keyboard.type('"cost": 55');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Escape');
  await page.keyboard.insertText('"cost": 66');
  await expect(page.getByTestId('typed-state')).toContainText('Applied, it would do this:');
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect.poll(() => steps(page), soon).toBe(2);
  await expect(panel.getByLabel('cost')).toHaveValue('66');
  await page.getByRole('button', { name: 'Back to the map' }).click();
  await page.keyboard.press('Control+z');
  await expect(panel.getByLabel('cost')).toHaveValue('55');
});
