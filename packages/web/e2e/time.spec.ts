import { expect, test, type Page } from '@playwright/test';
import { bring, openFresh } from './bench';

/**
 * A ring of five whose far routers calculate late: cove-1 sends packets for cove-2 back to cove-5 after the cut, until cove-5
 * has calculated too (by hand: dropped to about 115 ms, going round to about 316 ms).
 */
function ring(): { name: string; content: string }[] {
  const delays = [100, 100, 300, 100, 300];
  return delays.map((delay, n) => {
    const at = (m: number): number => ((m - 1 + 5) % 5) + 1;
    const [next, before] = [at(n + 2), at(n)];
    const ports = [
      { name: `to-cove-${next}`, address: `10.96.1.${2 * n}` },
      { name: `to-cove-${before}`, address: `10.96.1.${2 * (at(n) - 1) + 1}` },
    ];
    const name = `cove-${n + 1}`;
    return {
      name: `${name}.json`,
      content: JSON.stringify({
        'ietf-system:system': { hostname: name },
        'ietf-interfaces:interfaces': {
          interface: [
            { name: 'lo', type: 'iana-if-type:softwareLoopback', 'ietf-ip:ipv4': { address: [{ ip: `10.96.0.${n + 1}`, 'prefix-length': 32 }] } },
            ...ports.map((p) => ({
              name: p.name,
              type: 'iana-if-type:ethernetCsmacd',
              'ietf-ip:ipv4': { address: [{ ip: p.address, 'prefix-length': 31 }] },
            })),
          ],
        },
        'ietf-routing:routing': {
          'control-plane-protocols': {
            'control-plane-protocol': [
              {
                type: 'ietf-ospf:ospfv2',
                name: 'campus',
                'ietf-ospf:ospf': {
                  'explicit-router-id': `10.96.0.${n + 1}`,
                  'gentle-compass:spf-schedule': { 'fixed-delay': delay },
                  areas: {
                    area: [
                      {
                        'area-id': '0.0.0.0',
                        interfaces: {
                          interface: [
                            { name: 'lo', passive: true },
                            ...ports.map((p) => ({ name: p.name, 'interface-type': 'point-to-point', cost: 10 })),
                          ],
                        },
                      },
                    ],
                  },
                },
              },
            ],
          },
        },
      }),
    };
  });
}

const verdict = (page: Page) => page.getByTestId('verdict');
const moment = (page: Page) => page.getByTestId('moment');
const slider = (page: Page) => page.getByRole('slider', { name: 'Moment' });

/** How many ms the typical run takes, as the page says. */
async function typical(page: Page): Promise<number> {
  const text = await verdict(page).innerText();
  const m = /new after ([\d.]+) (ms|s)/.exec(text);
  return Number(m?.[1]) * (m?.[2] === 's' ? 1000 : 1);
}

test('a fibre is cut: packets are dropped, go round and heal under the handle; other timers shorten it, taken over as one change', async ({
  page,
}) => {
  await openFresh(page);
  await bring(page, ring());
  await expect(page.getByText('5 routers, 1 area')).toBeVisible();
  await page.keyboard.press('6');
  await page.getByRole('button', { name: 'How long it takes' }).click();
  await page.getByRole('button', { name: 'Take down…' }).click();
  await page.getByLabel('cove-1 – cove-2').check();
  await page.keyboard.press('Escape');

  await expect(verdict(page)).toContainText(/new after 3[12]\d ms/);
  await expect(verdict(page)).toContainText('300 ms of 31');
  await expect(verdict(page)).toContainText('loop');

  // Those packets are followed.
  await page.getByRole('button', { name: 'Events' }).click();
  await page.getByLabel('Follow packets from').fill('cove-1');
  await page.getByLabel('Follow packets to').fill('cove-2');
  await page.getByRole('button', { name: 'Follow', exact: true }).click();
  await expect(page.getByLabel('Packets that are followed, by name').getByText('cove-1 → cove-2')).toBeVisible();
  await page.getByLabel('Packets that are followed', { exact: true }).getByRole('button', { name: 'cove-1 → cove-2' }).click();
  await page.getByRole('button', { name: 'Moment', exact: true }).click();

  // The handle is dragged over the axis.
  await page.getByLabel('Time axis').selectOption('even');
  const handle = slider(page);
  await handle.focus();
  await page.keyboard.press('Home');
  await expect(moment(page)).toContainText('at 0.0 ms');
  await expect(moment(page)).toContainText('is dropped');
  const box = await handle.boundingBox();
  const strip = await page.getByTestId('strip').boundingBox();
  if (!box || !strip) throw new Error('no strip');
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(strip.x + strip.width * 0.5, box.y + 4, { steps: 6 });
  await expect(moment(page)).toContainText('loops');
  await expect(moment(page)).toContainText('cove-1, cove-5 and back to cove-1');
  await page.mouse.move(strip.x + strip.width - 120, box.y + 4, { steps: 6 });
  await page.mouse.up();
  await expect(moment(page)).toContainText('is carried');
  await expect(moment(page)).toContainText('cove-1, cove-5, cove-4, cove-3, cove-2');

  // It plays by itself, from the beginning to the end.
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Hold' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
  await expect(moment(page)).toContainText('is carried');

  // By keys: back to where it begins to go round, with the table of who sends it back.
  await handle.focus();
  await page.keyboard.press('Home');
  for (let i = 0; i < 40; i++) {
    await page.keyboard.press('ArrowRight');
    if (/^1[12]\d ms/.test((await handle.getAttribute('aria-valuetext')) ?? '')) break;
  }
  await page.getByLabel('Routers, the first that knew first').getByRole('button', { name: 'cove-5' }).click();
  await expect(moment(page)).toContainText('Every line is as it was before.');
  await moment(page).getByRole('button', { name: 'database' }).click();
  await expect(page.getByLabel('Databases of cove-5 at this moment').getByText('links of cove-1')).toBeVisible();
  await page.getByRole('button', { name: 'Map then' }).click();
  await expect(page.getByTestId('map-then').getByText('table new').first()).toBeVisible();
  await page.getByRole('button', { name: 'Strip', exact: true }).click();

  // Other timers: hellos of one end alone are refused; a short delay everywhere is taken over.
  const before = await typical(page);
  await page.getByRole('button', { name: 'Tune', exact: true }).click();
  await page.getByLabel('Where', { exact: true }).selectOption('router');
  await page.getByLabel('Hello interval, s').fill('1');
  await page.getByLabel('Dead interval, s').fill('4');
  await expect(page.getByTestId('tuned')).toContainText('Refused: cove-1/to-cove-5 and cove-5/to-cove-1 would part for good');
  await expect(page.getByRole('button', { name: 'Take over as one change' })).toHaveCount(0);
  await page.getByLabel('Hello interval, s').fill('');
  await page.getByLabel('Dead interval, s').fill('');
  await page.getByLabel('Where', { exact: true }).selectOption('around');
  await page.getByLabel('SPF schedule').selectOption('fixed');
  await page.getByLabel('SPF delay, ms').fill('20');
  const row = page.getByRole('table', { name: 'Now against other timers' }).getByRole('row', { name: /^whole, typical/ });
  await expect(row).toContainText(/3\d ms/);
  await page.getByRole('button', { name: 'Take over as one change' }).click();
  await expect(verdict(page)).toContainText(/new after [34]\d ms/);
  expect(await typical(page)).toBeLessThan(before / 4);

  await page.getByTitle('Undo: Timers tuned').click();
  await expect(verdict(page)).toContainText(/new after 3[12]\d ms/);
});

test('failures one after another, a return, and a planned step; what cannot be is told', async ({ page }) => {
  await openFresh(page, '/?stage=failures&tell=time&fail=link:beacon-1/to-kelp-1');
  await expect(verdict(page)).toContainText('The last table is new after');
  await page.getByRole('button', { name: 'Events' }).click();
  const form = page.getByRole('form', { name: 'Something more that happens' });
  await form.getByLabel('Moment, ms').fill('2000');
  await form.getByRole('button', { name: 'Let it happen' }).click();
  const list = page.getByRole('list', { name: 'What happens when' });
  await expect(list.getByText('link:beacon-1/to-kelp-1 comes back')).toBeVisible();
  await expect(verdict(page)).toContainText(/new after [\d.]+ s/);
  await form.getByLabel('What happens', { exact: true }).selectOption('line');
  await form.getByLabel('The step, a line of quick entry').fill('set coast 5 on all');
  await form.getByRole('button', { name: 'Let it happen' }).click();
  await expect(page.getByRole('alert').filter({ hasText: 'set coast 5 on all' })).toBeVisible();
  await page.getByRole('button', { name: 'Take out: set coast 5 on all' }).click();
  await expect(page.getByRole('alert').filter({ hasText: 'set coast' })).toHaveCount(0);
  await form.getByLabel('What happens', { exact: true }).selectOption('flap');
  await form.getByLabel('What it is about').fill('link:moon/dark-side');
  await form.getByRole('button', { name: 'Let it happen' }).click();
  await expect(form.getByRole('alert')).toContainText('nothing that can fail here');
  // The address holds all of it.
  await page.reload();
  await page.getByRole('button', { name: 'Events' }).click();
  await expect(page.getByRole('list', { name: 'What happens when' }).getByText('comes back')).toBeVisible();
  await page.getByRole('button', { name: 'Restore all' }).click();
  await expect(page.getByRole('button', { name: 'Time every failure' })).toBeVisible();
  expect(new URL(page.url()).search).toBe('?stage=failures&tell=time');
});

test('every failure timed, the slowest first; times of one’s own count, and are kept', async ({ page }) => {
  await openFresh(page, '/?stage=failures&tell=time');
  await page.getByRole('button', { name: 'Time every failure' }).click();
  const table = page.getByRole('table', { name: 'Every failure, timed' });
  await expect(page.getByRole('button', { name: 'Time them again' })).toBeVisible({ timeout: 60_000 });
  const first = table.getByRole('row').nth(1);
  await expect(first).toContainText('slipway');
  await first.click();
  await page.getByRole('button', { name: 'Show it moment by moment' }).click();
  await expect(verdict(page)).toContainText('the dead interval on drydock');
  await page.getByRole('button', { name: 'Runs', exact: true }).click();
  await expect(page.getByRole('img', { name: /^Last change of all tables: earliest/ })).toBeVisible();

  await page.goto('/?stage=failures&tell=time&fail=link:beacon-1/to-kelp-1');
  await expect(verdict(page)).toContainText('new after');
  const before = await typical(page);
  await page.getByRole('button', { name: 'Times', exact: true }).click();
  const light = page.getByLabel('carrier-detect-ms, ms');
  await light.fill('2000');
  await light.press('Enter');
  await expect.poll(() => typical(page)).toBeGreaterThan(before + 1900);
  await page.reload();
  await expect.poll(() => typical(page)).toBeGreaterThan(before + 1900);
  await page.getByRole('button', { name: 'Times', exact: true }).click();
  await expect(page.getByLabel('carrier-detect-ms, ms')).toHaveValue('2000');
  await page.getByRole('button', { name: 'As assumed' }).click();
  await expect.poll(() => typical(page)).toBeLessThan(before + 100);
});
