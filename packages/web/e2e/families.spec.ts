import { expect, test, type Page } from '@playwright/test';
import { campus, type Campus } from '@gentle-compass/core/testing/campus';
import { dual, type DualRouter } from '@gentle-compass/core/testing/dual';
import { six } from '@gentle-compass/core/testing/mirror';
import { bring, openFresh, tableText } from './bench';

/** Three routers in a triangle with both families, and what is otherwise in some of them. */
const triangle = (change: Readonly<Record<string, (r: DualRouter) => void>> = {}): Campus =>
  dual(
    campus()
      .router('gull-1', '10.96.0.1', 0)
      .router('gull-2', '10.96.0.2', 0)
      .router('gull-3', '10.96.0.3', 0)
      .cable('gull-1', 'gull-2', '10.96.128.0', 0, 10)
      .cable('gull-2', 'gull-3', '10.96.128.2', 0, 10)
      .cable('gull-1', 'gull-3', '10.96.128.4', 0, 50)
      .links(['gull-1/to-gull-2 gull-2/to-gull-1', 'gull-2/to-gull-3 gull-3/to-gull-2', 'gull-1/to-gull-3 gull-3/to-gull-1']),
    change,
  );

async function bringCampus(page: Page, c: Campus): Promise<void> {
  await openFresh(page);
  await bring(
    page,
    c.documents().map((d) => ({ name: d.file, content: JSON.stringify(d.tree) })),
  );
  await expect(page.getByText(/^3 routers, /)).toBeVisible();
}

const family = (page: Page, name: 'IPv4' | 'IPv6') => page.getByRole('group', { name: 'Family that is looked at' }).getByRole('button', { name });
const look = async (page: Page, name: 'IPv4' | 'IPv6'): Promise<void> => {
  await family(page, name).click();
  await expect(family(page, name)).toHaveAttribute('aria-pressed', 'true');
};

test('a hello changed in IPv6 only: the neighbour is lost there, stays in IPv4, and is won back on the other side', async ({ page }) => {
  await bringCampus(page, triangle({ 'gull-2': (r) => Object.assign(r.port('to-gull-1'), { 'hello-interval': 5 }) }));
  await expect(page.getByText('3 pairs of neighbours full, 0 in trouble')).toBeVisible();
  // The finding leads to the family that it is about.
  await page.getByRole('button', { name: /error · IPv6 gull-1 and gull-2 stay apart: hello interval 10 s against 5 s/ }).click();
  await expect(family(page, 'IPv6')).toHaveAttribute('aria-pressed', 'true');
  await expect(page.getByText(/pair on/)).toContainText(six('10.96.128.0'));
  // On the other side: its dead interval is derived, and follows its hello.
  await page
    .getByRole('button', { name: /Set the hello interval of gull-1 to 5 s/ })
    .first()
    .click();
  await expect(page.getByTestId('change-strip')).toContainText('2 neighbours gained');
  await page.keyboard.press('1');
  await expect(page.getByText('3 pairs of neighbours full, 0 in trouble')).toBeVisible();
  await expect(page.getByText(/^no errors/)).toBeVisible();
  await look(page, 'IPv4');
  await expect(page.getByText('3 pairs of neighbours full, 0 in trouble')).toBeVisible();
});

test('an interface forgotten in one family is found, and put where the other has it', async ({ page }) => {
  await bringCampus(
    page,
    triangle({
      'gull-3': (r) => r.three.areas.area.forEach((a) => (a.interfaces.interface = a.interfaces.interface.filter((i) => i['name'] !== 'to-gull-2'))),
    }),
  );
  // It is the same fault as that gull-2 hears nobody there, and stands beneath it.
  await page
    .getByText(/things? follows? from it/)
    .first()
    .click();
  await expect(page.getByText(/to-gull-2 of gull-3 is in area 0.0.0.0 of OSPFv2 and carries IPv6 too, but OSPFv3 does not have it/)).toBeVisible();
  await page.goto('/?family=6&stage=routes&router=gull-1');
  // Around the gap: 50 over the dear cable, where 20 would do.
  await expect(page.getByRole('row').filter({ hasText: `${six('10.96.0.3')}/128` })).toContainText(/intra-area\s*50\s*gull-3/);
  await page.goto('/?family=6&table=families');
  await expect(page.getByRole('row').filter({ hasText: 'gull-3' }).filter({ hasText: 'only in OSPFv2' })).toContainText('to-gull-2');
  await page.goto('/?family=6&router=gull-3');
  await page.getByRole('button', { name: /^Put to-gull-2 of gull-3 into area 0.0.0.0 there too/ }).click();
  await expect(page.getByTestId('change-strip')).toContainText('2 neighbours gained');
  await page.goto('/?family=6&stage=routes&router=gull-1');
  await expect(page.getByRole('row').filter({ hasText: `${six('10.96.0.3')}/128` })).toContainText(/intra-area\s*20\s*gull-2/);
});

test('a link without any global address carries routes, with link-local next hops and the name of the neighbour first', async ({ page }) => {
  const bare = (name: string) => (r: DualRouter) => {
    r.iface(name)['ietf-ip:ipv6'] = { address: [] };
  };
  await bringCampus(page, triangle({ 'gull-1': bare('to-gull-2'), 'gull-2': bare('to-gull-1') }));
  await page.goto('/?family=6&stage=routes&router=gull-1');
  const line = page.getByRole('row').filter({ hasText: `${six('10.96.0.2')}/128` });
  await expect(line).toContainText(/intra-area\s*10\s*gull-2\s*fe80::a60:2:2/);
  // Loopbacks, and the two links that have a prefix: the third has none.
  const lines = (await tableText(page)).filter((t) => t.startsWith('2001:'));
  expect(lines).toHaveLength(5);
  await page.goto('/?family=6&stage=neighbours');
  await expect(page.getByText('3 pairs on 3 segments')).toBeVisible();
});

test('a failure after which one family reaches and the other does not', async ({ page }) => {
  // Between gull-2 and gull-3 OSPFv3 was never switched on.
  const without = (name: string) => (r: DualRouter) =>
    r.three.areas.area.forEach((a) => (a.interfaces.interface = a.interfaces.interface.filter((i) => i['name'] !== name)));
  await bringCampus(page, triangle({ 'gull-2': without('to-gull-3'), 'gull-3': without('to-gull-2') }));
  await page.goto('/?stage=failures&fail=link:gull-1/to-gull-3');
  await expect(page.getByRole('heading', { name: 'Everything still reaches' })).toBeVisible();
  await look(page, 'IPv6');
  await expect(page.getByText(`${six('10.96.0.3')}/128`)).toBeVisible();
  await expect(page.getByText(/prefix(es)? out of reach/)).toBeVisible();
});

test('the key turns the family, the address bar holds it, and a design of one family has no switch', async ({ page }) => {
  await bringCampus(page, campus().router('gull-1', '10.96.0.1', 0).router('gull-2', '10.96.0.2', 0).router('gull-3', '10.96.0.3', 0));
  await expect(page.getByRole('group', { name: 'Family that is looked at' })).toHaveCount(0);
  await bringCampus(page, triangle());
  await expect(family(page, 'IPv6')).toBeVisible();
  await page.locator('body').click({ position: { x: 5, y: 790 } });
  await page.keyboard.press('v');
  await expect(page).toHaveURL(/family=6/);
  await expect(family(page, 'IPv6')).toHaveAttribute('aria-pressed', 'true');
  await page.reload();
  await expect(family(page, 'IPv6')).toHaveAttribute('aria-pressed', 'true');
  await page.goBack();
  await expect(family(page, 'IPv4')).toHaveAttribute('aria-pressed', 'true');
});

test('a design of one family gets the other as one edit, and the switch with it', async ({ page }) => {
  const four = campus()
    .router('gull-1', '10.96.0.1', 0)
    .router('gull-2', '10.96.0.2', 0)
    .router('gull-3', '10.97.0.3', 1)
    .cable('gull-1', 'gull-2', '10.96.128.0', 0, 10)
    .cable('gull-2', 'gull-3', '10.97.128.0', 1, 30);
  await bringCampus(page, four);
  await page.getByRole('button', { name: 'Add IPv6…' }).click();
  const field = page.getByRole('combobox', { name: 'A line that changes the design' });
  await expect(field).toHaveValue('ipv6 ');
  await field.pressSequentially('2001:db8:40::/48');
  await expect(page.getByText('IPv6 and OSPFv3 in 3 routers out of 2001:db8:40::/48')).toBeVisible();
  await field.press('Enter');
  await expect(field).toHaveValue('');
  await field.press('Escape');
  await look(page, 'IPv6');
  await expect(page.getByText('2 pairs of neighbours full, 0 in trouble')).toBeVisible();
  await page.keyboard.press('6');
  await page.goto('/?family=6&stage=routes&router=gull-1');
  await expect(page.getByRole('heading', { name: 'Routes of gull-1' })).toBeVisible();
  // Loopbacks alone: links speak by link-local addresses. The far one is told by type inter-area-prefix, at 10 and 30.
  const rows = await tableText(page);
  expect(rows).toHaveLength(3);
  expect(rows.filter((r) => r.includes('inter-area') && r.includes('40'))).toHaveLength(1);
});

test('a blueprint with a prefix of IPv6 lays both families out', async ({ page }) => {
  await openFresh(page);
  await page.getByRole('button', { name: /Open or export/ }).click();
  await page.getByRole('menuitem', { name: 'An empty design' }).click();
  await page.getByRole('button', { name: 'Lay a campus out from a blueprint' }).click();
  await page.getByLabel('IPv6 prefix of the site').fill('2001:db8:40::/62');
  await expect(page.getByRole('alert').first()).toContainText('2001:db8:40::/62');
  await page.getByLabel('IPv6 prefix of the site').fill('2001:db8:40::/48');
  await page.getByRole('button', { name: 'Make the campus' }).click();
  await expect(page.getByText(/^no errors/)).toBeVisible();
  const pairs = page.getByText(/\d+ pairs of neighbours full, 0 in trouble/);
  const four = await pairs.textContent();
  await look(page, 'IPv6');
  await expect(page.getByText(/^no errors/)).toBeVisible();
  await expect(pairs).toHaveText(four ?? '');
});
