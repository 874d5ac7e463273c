import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { bring, openFresh } from './bench';

const keyed = (name: string, ip: string, key: string): string =>
  JSON.stringify({
    'ietf-system:system': { hostname: name },
    'ietf-interfaces:interfaces': { interface: [{ name: 'x', type: 'ethernetCsmacd', 'ietf-ip:ipv4': { address: [{ ip, 'prefix-length': 30 }] } }] },
    'ietf-routing:routing': {
      'control-plane-protocols': {
        'control-plane-protocol': [
          {
            type: 'ietf-ospf:ospfv2',
            name: 'campus',
            'ietf-ospf:ospf': {
              'explicit-router-id': ip,
              areas: {
                area: [
                  {
                    'area-id': '0.0.0.0',
                    interfaces: { interface: [{ name: 'x', 'interface-type': 'point-to-point', authentication: { 'ospfv2-key': key } }] },
                  },
                ],
              },
            },
          },
        ],
      },
    },
  });

test('every export of a design with keys asks; without them the check still holds, and no key is in the file or the page', async ({ page }) => {
  await openFresh(page);
  await bring(page, [
    { name: 'a.json', content: keyed('reef-1', '10.96.1.1', 'low-tide-42') },
    { name: 'b.json', content: keyed('reef-2', '10.96.1.2', 'low-tide-42') },
  ]);
  await expect(page.getByText('2 routers, 1 area')).toBeVisible();
  await page.getByRole('button', { name: /Open or export/ }).click();
  await page.getByRole('menuitem', { name: 'Whole design as .compass.json' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Leave the keys out' }).click();
  const text = readFileSync(await (await download).path(), 'utf8');
  expect(text).not.toContain('low-tide-42');
  expect(text).toMatch(/digest:[0-9a-f]{16}:[0-9a-f]{32}/);
  await bring(page, [{ name: 'x.compass.json', content: text }]);
  await expect(page.getByText('1 pair of neighbours full')).toBeVisible();
  for (const key of ['2', '3', '4', '5', '1']) {
    await page.keyboard.press(key);
    await page.waitForTimeout(150);
    expect(await page.content()).not.toContain('low-tide-42');
    expect(page.url()).not.toContain('low-tide-42');
  }
});
