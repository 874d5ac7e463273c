import { zipSync, strToU8 } from 'fflate';
import { expect, test, type Page } from '@playwright/test';
import { goodPair, hostileSet } from '@gentle-compass/core/testing/hostile-set';
import { bring, bringFromDisk, openFresh } from './bench';

const good = (name: string): string =>
  JSON.stringify({
    'ietf-system:system': { hostname: name },
    'ietf-interfaces:interfaces': {
      interface: [{ name: 'lo', type: 'iana-if-type:softwareLoopback', 'ietf-ip:ipv4': { address: [{ ip: '10.96.9.1', 'prefix-length': 32 }] } }],
    },
  });

async function told(page: Page, ...words: readonly (string | RegExp)[]): Promise<void> {
  const dialog = page.getByRole('dialog');
  for (const w of words) await expect(dialog).toContainText(w);
}

const untouched = (page: Page) => expect(page.getByText('20 routers, 5 areas')).toBeVisible();

test('a file that is not JSON is told with its place, and the open design stays', async ({ page }) => {
  await openFresh(page);
  await bring(page, [{ name: 'broken.json', content: '{ "a": 1,\n  "b" 2 }' }]);
  await told(page, 'Nothing could be imported', 'broken.json, line 2', 'a colon is missing');
  await page.getByRole('button', { name: 'Go on' }).click();
  await untouched(page);
});

test('JSON that is no router document is told', async ({ page }) => {
  await openFresh(page);
  await bring(page, [{ name: 'shopping.json', content: '{ "milk": 2 }' }]);
  await told(page, 'shopping.json', 'neither a router document nor a topology', 'ietf-system:system');
  await page.keyboard.press('Escape');
  await untouched(page);
});

test('a wrong value deep inside and two routers of one name are told; the rest is imported', async ({ page }) => {
  await openFresh(page);
  const wrong = JSON.parse(good('reef-2')) as Record<string, unknown>;
  wrong['ietf-routing:routing'] = {
    'control-plane-protocols': {
      'control-plane-protocol': [
        {
          type: 'ietf-ospf:ospfv2',
          name: 'campus',
          'ietf-ospf:ospf': { areas: { area: [{ 'area-id': '0.0.0.0', interfaces: { interface: [{ name: 'lo', cost: 'cheap' }] } }] } },
        },
      ],
    },
  };
  await bring(page, [
    { name: 'reef-1.json', content: good('reef-1') },
    { name: 'reef-2.json', content: JSON.stringify(wrong) },
    { name: 'twin.json', content: good('reef-1') },
  ]);
  await told(
    page,
    '2 routers imported',
    'reef-2.json',
    'interface[name=lo]/cost',
    '"cheap" is not a whole number',
    'twin.json',
    'already stands in reef-1.json',
  );
  await page.getByRole('button', { name: 'Go on' }).click();
  await expect(page.getByText('2 routers, 1 area')).toBeVisible();
});

/** A router document of 50 MB that packs to less than half: what a picker would bring. */
function bigDocument(name: string): string {
  let n = 7;
  const digits = Array.from({ length: 6_553_600 }, () => String(10_000_000 + ((n = (n * 16_807) % 2_147_483_647) % 90_000_000))).join('');
  return JSON.stringify({ ...(JSON.parse(good(name)) as object), 'example:notes': digits });
}

test('a reading that takes long is stopped: the open design is as it was, and the next file is read', async ({ page }) => {
  await openFresh(page);
  const documents = Object.fromEntries(['reef-1', 'reef-2', 'reef-3'].map((name) => [`${name}.json`, strToU8(bigDocument(name))]));
  await bringFromDisk(page, 'slow.zip', zipSync(documents, { level: 1 }));
  const stop = page.getByRole('button', { name: 'Stop reading' });
  await expect(stop).toBeVisible();
  await expect(page.getByText('Reading slow.zip')).toBeVisible();
  await stop.click();
  await expect(page.getByTestId('notice')).toContainText('Reading slow.zip: stopped. The open design is as it was.');
  await expect(stop).toBeHidden();
  await untouched(page);
  await bring(page, [{ name: 'reef-4.json', content: good('reef-4') }]);
  await expect(page.getByText(/^1 router, /)).toBeVisible();
});

test('a file of 50 MB is read without freezing the page; one over the limit is refused', async ({ page }) => {
  await openFresh(page);
  const big = bigDocument('reef-1');
  const huge = strToU8('['.padEnd(65 * 1024 * 1024, ' '));
  await page.evaluate(() => {
    const seen = window as unknown as { longest: number };
    seen.longest = 0;
    let last = performance.now();
    const tick = (): void => {
      const now = performance.now();
      seen.longest = Math.max(seen.longest, now - last);
      last = now;
      requestAnimationFrame(tick);
    };
    requestAnimationFrame(tick);
  });
  await bringFromDisk(page, 'set.zip', zipSync({ 'reef-1.json': strToU8(big), 'huge.json': huge }, { level: 1 }));
  await told(page, '1 router imported', 'huge.json', 'the limit is 64 MB');
  const longest = await page.evaluate(() => (window as unknown as { longest: number }).longest);
  expect(longest).toBeLessThan(1500);
});

test('an archive that climbs out, and one that unpacks to gigabytes, are refused', async ({ page }) => {
  await openFresh(page);
  const climbing = zipSync({ '../../outside.json': strToU8(good('reef-9')), 'inside.json': strToU8(good('reef-1')) });
  await bring(page, [{ name: 'climbing.zip', content: Buffer.from(climbing) }]);
  await told(page, '1 router imported', 'climbing.zip › ../../outside.json', 'climbs out of the archive');
  await page.getByRole('button', { name: 'Go on' }).click();
  const zeros = new Uint8Array(60 * 1024 * 1024);
  const bomb: Record<string, Uint8Array> = {};
  for (let i = 0; i < 12; i++) bomb[`part-${i}.json`] = zeros;
  await bring(page, [{ name: 'bomb.zip', content: Buffer.from(zipSync(bomb, { level: 1 })) }]);
  await told(page, 'bomb.zip', 'would have 720 MB, over 100 times its own size');
});

test('nothing chosen and an empty archive say what is missing', async ({ page }) => {
  await openFresh(page);
  await bring(page, [{ name: 'empty.zip', content: Buffer.from(zipSync({ 'readme.txt': strToU8('nothing') })) }]);
  await told(page, 'Nothing could be imported', 'No router document was found');
});

test('a dropped folder with nothing in it says so, and the open design stays', async ({ page }) => {
  await openFresh(page);
  const data = await page.evaluateHandle(() => new DataTransfer());
  await page.locator('main').dispatchEvent('drop', { dataTransfer: data });
  await told(page, 'Nothing could be imported', 'No router document was found');
  await page.keyboard.press('Escape');
  await untouched(page);
});

/** How many hostile inputs are brought at once; 1 on request, each alone beside the good pair. */
const together = Number(process.env['HOSTILE_TOGETHER'] ?? 24);

test('the hostile set, brought beside a good pair: each is named, the good ones are right, and the page goes on', async ({ page }) => {
  test.setTimeout(120_000 + (hostileSet.length / together) * 20_000);
  const faults: string[] = [];
  page.on('pageerror', (e) => faults.push(e.message));
  await openFresh(page);
  let slowest = { ms: 0, what: '' };
  for (let from = 0; from < hostileSet.length; from += together) {
    // Each under a name of its own, its ending kept.
    const set = hostileSet.slice(from, from + together).map(([what, name, content, must], i) => ({
      what,
      must,
      file: { name: `z${from + i}-${name}`, content: typeof content === 'string' ? content : Buffer.from(content) },
    }));
    const begun = Date.now();
    await bring(page, [...goodPair().map((f) => ({ name: f.name, content: f.content as string })), ...set.map((s) => s.file)]);
    const dialog = page.getByRole('dialog');
    const course = page.getByRole('navigation', { name: 'Course of work' });
    const told = set.filter((s) => s.must === 'told');
    if (told.length > 0) {
      await expect(dialog).toBeVisible();
      const ms = Date.now() - begun;
      if (ms > slowest.ms) slowest = { ms, what: set.map((s) => s.what).join('; ') };
      const text = await dialog.innerText();
      const silent = told.filter((s) => !text.includes(`${s.file.name.split('-')[0] ?? ''}-`));
      // What stood in an archive is named as it was named there.
      expect(silent.filter((s) => !/^bad\.zip$/.test(s.file.name.replace(/^z\d+-/, '')) || !text.includes('a.json')).map((s) => s.what)).toEqual([]);
      await page.getByRole('button', { name: 'Go on' }).click();
    }
    await expect(course.getByText(/\d+ routers?, \d+ areas?/)).toBeVisible();
    await page.goto('/?stage=routes&router=good-1&prefix=10.96.0.2%2F32');
    await expect(page.getByRole('row').filter({ hasText: '10.96.0.2/32' })).toContainText('good-2');
  }
  expect(faults).toEqual([]);
  test.info().annotations.push({ type: 'slowest answer', description: `${slowest.ms} ms: ${slowest.what}` });
});
