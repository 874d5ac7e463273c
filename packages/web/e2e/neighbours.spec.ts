import AxeBuilder from '@axe-core/playwright';
import { readFileSync } from 'node:fs';
import { strFromU8, unzipSync } from 'fflate';
import { expect, test, type Page } from '@playwright/test';
import { campus, type Campus, type PortOptions } from '@gentle-compass/core/testing/campus';
import { bring, openFresh } from './bench';

const p2p = { 'interface-type': 'point-to-point' };

/** Two routers on one cable, with what each end says of it; a loopback behind each. */
const two = (auk: PortOptions = {}, crake: PortOptions = {}): Campus =>
  campus()
    .router('auk', '10.96.0.1', 0)
    .router('crake', '10.96.0.2', 0)
    .port('auk', 'east', '10.97.0.0/31', 0, { ...p2p, ...auk })
    .port('crake', 'west', '10.97.0.1/31', 0, { ...p2p, ...crake });

const files = (c: Campus): { name: string; content: string }[] => c.documents().map((d) => ({ name: d.file, content: JSON.stringify(d.tree) }));

async function openWith(page: Page, c: Campus, query: string): Promise<void> {
  await openFresh(page);
  await bring(page, files(c));
  await expect(page.getByText(`${c.read().design.routers.length} routers,`)).toBeVisible();
  await page.goto(query);
  await expect(page.getByRole('heading', { name: 'Neighbours', exact: true })).toBeVisible();
}

/** A trouble between two: what the list says, the sentence with both values, the action that mends it. */
const troubles: readonly (readonly [kind: string, made: Campus, word: string, sentence: RegExp, action: RegExp])[] = [
  [
    'a timer changed on one side',
    two({ 'hello-interval': 5, 'dead-interval': 40 }),
    'apart',
    /hello interval 5 s against 10 s/,
    /^Set the hello interval of crake to 5 s/,
  ],
  ['a dead interval', two({ 'dead-interval': 60 }), 'apart', /dead interval 60 s against 40 s/, /^Set the dead interval of auk to 40 s/],
  [
    'the network type on one side',
    two({ 'interface-type': 'broadcast' }),
    'full, carries nothing',
    /auk calls the wire broadcast and crake point-to-point/,
    /^Set .*point-to-point|^Make .*point-to-point/,
  ],
  [
    'a key that is not switched on',
    two(
      { authentication: { 'ospfv2-key': 'tide-table', 'ospfv2-key-id': 3 } },
      { authentication: { 'ospfv2-key': 'tide-table', 'ospfv2-key-id': 3 }, 'authentication-required': false },
    ),
    'apart',
    /authentication key 3, md5 against off \(a key is given\)/,
    /^Switch authentication on at west of crake/,
  ],
  [
    'an MTU',
    two({ mtu: 9000 }),
    'stuck in ExStart',
    /descriptions of up to 9000 octets, its MTU is 1500/,
    /^Set the MTU of .*crake to 9000|^Set the MTU of west/,
  ],
  ['passive on the link', two({ passive: true }), 'apart', /auk is passive on east/, /^Let auk send hellos on east/],
  ['OSPF switched off on it', two({ enabled: false }), 'apart', /OSPF on the interface off against on/, /^Switch OSPF on at east of auk/],
  [
    'another area',
    campus()
      .router('auk', '10.96.0.1', 0)
      .router('crake', '10.96.0.2', 0)
      .port('auk', 'east', '10.97.0.0/31', 10, p2p)
      .port('crake', 'west', '10.97.0.1/31', 0, p2p),
    'apart',
    /area 0\.0\.0\.10 against 0\.0\.0\.0/,
    /^Move east of auk into area 0\.0\.0\.0/,
  ],
  [
    'one router id',
    two().ospf('crake', { 'explicit-router-id': '10.96.0.1' }),
    'apart',
    /router id 10\.96\.0\.1 against 10\.96\.0\.1/,
    /^Set the router id of crake to its loopback 10\.96\.0\.2/,
  ],
];

for (const [kind, made, word, sentence, action] of troubles)
  test(`seen in the list, understood, mended by one action and undone: ${kind}`, async ({ page }) => {
    await openWith(page, made, '/?stage=neighbours');
    const row = page.locator('li[data-pair]').first();
    await expect(row).toContainText(word);
    await expect(page.getByText(sentence).first()).toBeVisible();
    await page.getByRole('button', { name: action }).first().click();
    await expect(row.getByRole('button').first().getByText('full', { exact: true })).toBeVisible();
    await page.getByTestId('change-strip').getByRole('button', { name: 'Undo' }).click();
    await expect(row).toContainText(word);
  });

test('an interface that nobody turned on, and a rule whose mask matches nothing: mended where it is decided who takes part', async ({ page }) => {
  const c = campus()
    .router('auk', '10.96.0.1', 0)
    .router('crake', '10.96.0.2', 0)
    .port('auk', 'east', '10.97.0.0/31', 0, p2p)
    .port('crake', 'west', '10.97.0.1/31', null)
    .ospf('crake', { 'gentle-compass:activation': [{ match: '10.98.0.0 0.0.0.255', 'area-id': '0.0.0.0' }] });
  await openWith(page, c, '/?stage=neighbours&meet=part&router=crake');
  await expect(page.getByRole('row', { name: /^west 10\.97\.0\.1\/31 none no line, no rule left out/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /10\.98\.0\.0\/24 Backbone nothing matches no interface/ })).toBeVisible();
  const bench = page.getByTestId('bench');
  await page.getByLabel('What the rule matches').fill('10.97.0.0 0.255.0.255');
  await expect(bench).toContainText('fits neither a prefix length, a mask nor an inverted mask');
  await page.getByLabel('What the rule matches').fill('10.97.0.0 255.255.255.0');
  await expect(bench).toContainText('Read as 10.97.0.0/24');
  await expect(bench).toContainText('west 10.97.0.1/31');
  await expect(bench).toContainText('not in OSPF → area 0.0.0.0');
  await page.getByRole('button', { name: 'Save the rule' }).click();
  await expect(page.getByRole('row', { name: /^west 10\.97\.0\.1\/31 Backbone rule 1: 10\.97\.0\.0\/24 speaks/ })).toBeVisible();
  await page.getByTestId('change-strip').getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('row', { name: /^west .* left out/ })).toBeVisible();
});

const cloud = (spoke: number, listed: readonly string[]): Campus => {
  const neighbours = { 'static-neighbors': { neighbor: listed.map((identifier) => ({ identifier })) } };
  return ['hub', 'north', 'south']
    .reduce((c, n, i) => c.router(n, `10.96.0.${i + 1}`, 0), campus())
    .lan('cloud', '10.97.1.0/24', 0, [
      ['hub', { priority: 9, 'interface-type': 'non-broadcast', ...neighbours }],
      [
        'north',
        { priority: spoke, 'interface-type': 'non-broadcast', ...(spoke > 0 && { 'static-neighbors': { neighbor: [{ identifier: '10.97.1.1' }] } }) },
      ],
      ['south', { priority: 0, 'interface-type': 'non-broadcast' }],
    ]);
};

test('hub and spoke: a static neighbour that is missing is listed from the page', async ({ page }) => {
  await openWith(page, cloud(0, ['10.97.1.2']), '/?stage=neighbours&meet=leading');
  const about = page.getByRole('complementary', { name: 'About the segment' });
  await expect(about).toContainText('static neighbours missing');
  await expect(about).toContainText('hub – south: neither lists the other; down');
  await about.getByRole('button', { name: /List 10\.97\.1\.3 as a static neighbour in hub/ }).click();
  await expect(about).toContainText('hub – south: hub lists south; full');
  await expect(about).not.toContainText('static neighbours missing');
  await expect(about).toContainText('hub and spoke: no backup is wanted');
  await page.getByTestId('change-strip').getByRole('button', { name: 'Undo' }).click();
  await expect(about).toContainText('static neighbours missing');
});

test('a spoke that could win is seen, and takes no part in the election any more', async ({ page }) => {
  const about = page.getByRole('complementary', { name: 'About the segment' });
  await openFresh(page);
  await bring(page, files(cloud(1, ['10.97.1.2', '10.97.1.3'])));
  await expect(page.getByText('3 routers,')).toBeVisible();
  await page.goto('/?stage=neighbours&meet=leading');
  await expect(about).toContainText('a spoke could win');
  await expect(about).toContainText('north is a spoke of hub and can be elected: its priority is 1');
  await about.getByRole('button', { name: /Set the priority of north to 0/ }).click();
  await expect(about).not.toContainText('a spoke could win');
});

test('an election played through loss and return, a wish that an order of start breaks, and priorities that make it certain', async ({ page }) => {
  await openFresh(page, '/?stage=neighbours&meet=leading');
  const ladder = page.getByRole('table', { name: 'Ladder of candidates' });
  await expect(ladder.getByRole('row').nth(1)).toContainText('drydock-1');
  await expect(ladder.getByRole('row').nth(1)).toContainText('leads');
  // Lost and back: it does not lead again.
  await ladder.getByRole('checkbox', { name: 'drydock-1' }).check();
  await page.getByRole('button', { name: 'Lose drydock-1' }).click();
  await ladder.getByRole('checkbox', { name: 'drydock-1' }).check();
  await page.getByRole('button', { name: 'Start drydock-1' }).click();
  const steps = page.getByRole('table', { name: 'The play, step by step' }).getByRole('row');
  await expect(steps).toHaveCount(4);
  await expect(steps.nth(2)).toContainText('drydock-1 is lost');
  await expect(steps.nth(3)).toContainText('drydock-1 startsdrydock-2drydock-4');
  await expect(page.getByTestId('play-effect')).toContainText('advertised by drydock-2 instead of drydock-1');
  // The two that do not lead are content with 2-Way.
  await expect(page.getByTestId('play-pairs')).toContainText('In 2-Way, rightly: drydock-1 with drydock-3');

  await page.getByLabel('Who is to lead').selectOption('drydock-1');
  await page.getByRole('button', { name: 'Expect it to lead' }).click();
  await expect(page.getByTestId('breaking-order')).toContainText('is designated router');
  await page.getByRole('button', { name: /Make it certain: drydock-2 0, drydock-4 0, drydock-3 0|Make it certain/ }).click();
  await expect(page.getByText('no order of start, no loss and return breaks it.')).toBeVisible();
  await expect(page.getByTestId('breaking-order')).toHaveCount(0);
  await page.getByTestId('change-strip').getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByTestId('breaking-order')).toBeVisible();
});

test('coming up: the packets of a pair, where it sticks, and the patience that it takes; both families', async ({ page }) => {
  await openFresh(page, '/?stage=neighbours&pair=kelp-1%2Fto-kelp-4~kelp-4%2Fto-kelp-1');
  await page.getByRole('button', { name: 'Coming up, step by step' }).click();
  const course = page.getByRole('region', { name: 'Coming up, step by step' });
  await expect(course.getByTestId('patience')).toContainText('No neighbour is listed on either side, for ever');
  await expect(course.locator('[data-step="sticks"]')).toContainText('every hello is thrown away');
  await expect(course).toContainText('dead interval: 60 s in it, 40 s here');
  await page.getByRole('button', { name: 'Set the dead interval of kelp-4 to 40 s' }).first().click();
  await expect(course.getByTestId('patience')).toContainText('Full after 10.0 s at the latest');
  await expect(course.getByRole('table')).toContainText('Database Description');
  await expect(course.getByRole('table')).toContainText('is master: its router id');
  await expect(course.getByRole('row').last()).toContainText('databases are in step: Full');
  await page.getByRole('button', { name: 'IPv6', exact: true }).click();
  await page.getByLabel('Narrow the pairs').fill('tidepool-3 tidepool-4');
  await expect(course).toContainText('hello interval: 5 s in it, 10 s here');
});

test('the list is narrowed by area, router and state together, and put in order by segment', async ({ page }) => {
  await openFresh(page, '/?stage=neighbours');
  const rows = page.locator('li[data-pair]');
  await expect(rows).toHaveCount(31);
  await page.getByLabel('Narrow the pairs').fill('drydock 2-way');
  await expect(rows).toHaveCount(1);
  await page.getByLabel('Narrow the pairs').fill('area 30 apart');
  await expect(rows).toHaveCount(2);
  await page.getByLabel('Narrow the pairs').fill('');
  await page.getByLabel('Order of the pairs').selectOption('segment');
  await expect(page.getByText('LAN 10.97.66.0/24 · 6 pairs · drydock-1 leads')).toBeVisible();
  await page.getByLabel('Order of the pairs').selectOption('cost');
  // Three routers of an area are cut off behind it: nothing hangs on more.
  await expect(rows.first()).toContainText('tidepool-2');
});

test('eight seeded faults of the sample are eight causes, two more are IPv6; mending one says what went with it', async ({ page }) => {
  await openFresh(page);
  await expect(page.getByRole('heading', { name: '10 things to look at' })).toBeVisible();
  const cards = page.getByRole('article');
  await expect(cards.filter({ hasText: /^(?!note)/ })).toHaveCount(10);
  await expect(cards.filter({ hasText: /^(?!note)/ }).filter({ hasNotText: '· IPv6' })).toHaveCount(8);
  const area = cards.filter({ hasText: 'tidepool-2 and tidepool-4 stay apart' });
  await area.getByText(/things follow from it/).click();
  await expect(area).toContainText('is in 3 pieces: tidepool-1, tidepool-3 | tidepool-2 | tidepool-4');
  await expect(area).toContainText('10.97.128.0/18 and does not reach');
  await page.goto('/?stage=neighbours&pair=tidepool-2%2Fto-tidepool-4~tidepool-4%2Fto-tidepool-2');
  await expect(page.getByText(/things follow from it/).first()).toBeVisible();
  await page.getByRole('button', { name: 'Make area 0.0.0.30 a stub area in tidepool-4' }).first().click();
  await expect(page.getByTestId('change-strip')).toContainText('With it went what followed:');
  await expect(page.getByRole('navigation', { name: 'Course of work' })).toContainText('5 errors');
});

const secret = 'spring-tide-under-the-quay';
const chained = (second: object): Campus => {
  const key = (id: number, text: string, lifetime?: object): object => ({
    'key-id': id,
    'crypto-algorithm': 'hmac-sha-256',
    'key-string': { keystring: text },
    ...(lifetime && { lifetime }),
  });
  const c = two({ authentication: { 'ospfv2-key-chain': 'tide' } }, { authentication: { 'ospfv2-key-chain': 'tide' } }).settings({
    now: '2026-03-03T00:00:00Z',
  });
  const chain = (keys: readonly object[]): object => ({ 'ietf-key-chain:key-chains': { 'key-chain': [{ name: 'tide', key: keys }] } });
  c.document(
    'auk',
    chain([
      key(1, secret),
      key(2, `${secret}-two`, { 'send-accept-lifetime': { 'start-date-time': '2026-03-10T00:00:00Z', 'no-end-time': [null] } }),
    ]) as never,
  );
  c.document('crake', chain([key(1, secret), second]) as never);
  return c;
};

test('keys: the hour at which two part is named, a change is rehearsed and written, and no key leaves or shows unasked', async ({ page }) => {
  const log: string[] = [];
  page.on('console', (m) => log.push(m.text()));
  const wrong = { 'key-id': 2, 'crypto-algorithm': 'hmac-sha-256', 'key-string': { keystring: 'another-one' } };
  await openWith(page, chained(wrong), '/?stage=neighbours&meet=keys');
  await expect(page.getByRole('table', { name: 'Pairs and how they prove themselves' })).toContainText('part on 10 Mar 2026, 00:00 UTC');
  const about = page.getByRole('complementary', { name: 'About the keys' });
  await expect(about).toContainText('until 10 Mar 2026, 00:00 UTC; then they part');
  await expect(about).toContainText('≠ another key');
  await expect(page.getByTestId('rehearsed')).toContainText('Nothing is lost at any step');
  const { violations } = await new AxeBuilder({ page }).analyze();
  expect(violations.filter((v) => v.impact === 'serious' || v.impact === 'critical').map((v) => v.id)).toEqual([]);
  await about.getByRole('checkbox', { name: 'just replaced' }).check();
  await expect(about.getByRole('list', { name: 'Steps of the change' })).toContainText('lost unless the next follows within 20 s');
  await about.getByRole('checkbox', { name: 'just replaced' }).uncheck();
  await about.getByLabel('The new key').fill('neap-tide-of-june');
  await about.getByLabel('Hours until it is sent').fill('48');
  await about.getByRole('button', { name: 'Write it into 2 chains' }).click();
  await expect(about).toContainText('They take each other’s packets, and go on doing so.');
  // Nothing of a key in the page, its address, the log or any file that leaves without asking for it.
  const keys = [secret, 'another-one', 'neap-tide'];
  for (const stage of ['layout', 'neighbours', 'neighbours&meet=keys', 'neighbours&face=up', 'changes']) {
    await page.goto(`/?stage=${stage}`);
    await expect(page.getByText(/2 routers,/)).toBeVisible();
    const text = await page.evaluate(() => document.documentElement.outerHTML);
    for (const k of keys) expect(text.includes(k), `${k} at ${stage}`).toBe(false);
  }
  const menu = page.getByRole('button', { name: 'Open or export' });
  for (const name of ['Router documents as .zip', 'Whole design as .compass.json', 'Worksheets']) {
    await menu.click();
    const download = page.waitForEvent('download');
    await page.getByRole('menuitem', { name }).click();
    if (name !== 'Worksheets') await page.getByRole('button', { name: 'Leave the keys out' }).click();
    const octets = readFileSync(await (await download).path());
    const texts = name.includes('.compass') ? [octets.toString('utf8')] : Object.values(unzipSync(octets)).map((x) => strFromU8(x));
    expect(texts.join('')).toContain('auk');
    for (const k of keys) expect(texts.join('').includes(k), `${k} in ${name}`).toBe(false);
  }
  for (const k of keys) expect(log.join('\n')).not.toContain(k);
  // Asked for, this very key is shown, and hidden again.
  await page.goto('/?stage=neighbours&meet=keys');
  await about.getByRole('button', { name: 'Show the key' }).first().click();
  await expect(about).toContainText(secret);
  await about.getByRole('button', { name: /hide/ }).first().click();
  await expect(about).not.toContainText(secret);
});

test('routers that look alike are proposed, compared line by line and made alike; costs stand both ways', async ({ page }) => {
  const c = campus()
    .router('core', '10.96.0.1', 0)
    .router('east', '10.96.0.2', 0, { 'spf-control': { paths: 8 } })
    .router('west', '10.96.0.3', 0, { 'spf-control': { paths: 4 } })
    .router('inner', '10.96.0.4', 10)
    .cable('core', 'east', '10.97.0.0', 0, [10, 30])
    .cable('core', 'west', '10.97.0.2', 0)
    .cable('east', 'inner', '10.97.0.4', 10)
    .cable('west', 'inner', '10.97.0.6', 10);
  await openWith(page, c, '/?stage=neighbours&meet=alike');
  await page.getByRole('button', { name: 'They are to be alike' }).click();
  const table = page.getByRole('table', { name: 'east and west, line by line' });
  await expect(table).toContainText('equal-cost paths');
  await expect(table).toContainText('the cable to core: cost');
  await table.getByRole('button', { name: /^Set equal-cost paths of/ }).click();
  await expect(table).not.toContainText('equal-cost paths');
  await page.getByRole('button', { name: 'Costs', exact: true }).click();
  await expect(page.getByRole('row', { name: /core to-east 10 .* east to-core 30/ })).toContainText('differ');
});
