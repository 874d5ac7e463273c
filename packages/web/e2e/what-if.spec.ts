import { expect, test, type Page } from '@playwright/test';
import { bring, openFresh } from './bench';
import { square } from './square';

/** The square of four is open at a stage. */
async function at(page: Page, query: string): Promise<void> {
  await openFresh(page);
  await bring(page, square());
  await expect(page.getByText('4 routers, 1 area')).toBeVisible();
  await page.goto(query);
  await expect(page.getByText('4 routers, 1 area')).toBeVisible();
}

/** Types a line of quick entry and carries it out. */
async function enter(page: Page, line: string): Promise<void> {
  await page.keyboard.press('/');
  await page.getByRole('combobox', { name: 'A line that changes the design' }).waitFor();
  await page.keyboard.insertText(line);
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('change-strip')).toBeVisible();
  await page.keyboard.press('Escape');
}

test('a drain is compared with an outage, step by step', async ({ page }) => {
  await at(page, '/?stage=failures&fail=router:gull-2&watch=gull-1 gull-4');
  await page.getByRole('button', { name: 'Drain it first…' }).click();
  const planned = page.getByTestId('planned');
  // gull-1 and gull-4 use gull-2 as one of two equal ways, there and back.
  await expect(planned).toContainText('Drained first it interrupts nobody; taken down at once it interrupts 2 pairs.');
  const rows = planned.getByRole('table', { name: 'Planned work, step by step' }).getByRole('row');
  await expect(rows.nth(2)).toContainText(/take it down\s*0\s*0/);
  await expect(rows.nth(5)).toContainText(/plain outage\s*2\s*0/);
  // Two equal ways until it is drained, one until it is drained no more.
  const ways = planned.getByRole('list', { name: 'Ways in each step' });
  await expect(ways).toContainText('one of 2 equal ways');
  await expect(ways).toContainText('drain it: by gull-3, cost 20');
  await expect(ways).toContainText('drain no more: by gull-2, cost 20, one of 2 equal ways');
  await expect(planned).toContainText('set stub-router yes on gull-2');
});

test('the way of packets before and after stands on the map; the link that would save most is added from there', async ({ page }) => {
  await at(page, '/?stage=failures&fail=link:gull-1/to-gull-2&watch=gull-1 gull-2');
  const ways = page.getByRole('list', { name: 'Ways, before and after' });
  await expect(ways).toContainText('before: directly, cost 10');
  await expect(ways).toContainText('now: by gull-3, gull-4, cost 30');
  await expect(page.locator('[data-way="back"]')).toHaveCount(1);
  await expect(page.locator('[data-way="there"]')).toHaveCount(3);
  await page.getByLabel('Follow packets from').fill('gull-4');
  await page.getByLabel('Follow packets to').fill('gull-9');
  await page.getByRole('button', { name: 'Follow', exact: true }).click();
  await expect(page.getByText('no router and no group “gull-9”')).toBeVisible();

  await page.goto('/?stage=failures&fail=group:duct');
  const lost = page.getByTestId('what-is-lost');
  await lost.getByRole('button', { name: 'Try links that are not there' }).click();
  const best = page.getByTestId('best-link');
  // Two and two are apart. A new cable beside one of the two leaves the other pair 20 further off; across the square nothing is more than 10.
  await expect(best).toContainText(/gull-(1 – gull-4|2 – gull-3) would save most: nothing cut, the longest way 10 more/);
  await expect(best).toContainText('without it 8 pairs cut; 4 of 4 possible links tried');
  await best.getByRole('button', { name: /Add it/ }).click();
  // What the edit does is told for the whole network and for the failed one.
  await expect(page.getByText('While group:duct is down:').first()).toContainText('0 pairs cut (8 before)');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('change-strip')).toContainText('While group:duct is down:');
  await page.keyboard.press('Escape');
  await expect(lost.getByRole('heading', { level: 2 })).toContainText('Everything still reaches');
});

test('what stands alone is on the map; a cut is dragged over it and answered on the way; the keys walk over all that can fail', async ({ page }) => {
  await at(page, '/?stage=failures');
  const alone = page.getByRole('list', { name: 'Single points of failure' });
  await expect(alone.getByRole('listitem')).toHaveText([/shared risk duct\s*8 pairs cut/]);
  // The duct by its number on both of its cables.
  await expect(page.locator('[data-risk="1"]')).toHaveCount(2);
  const plate = async (name: string): Promise<{ x: number; y: number }> => {
    const box = await page.locator(`[data-plate="${name}"]`).boundingBox();
    return { x: (box?.x ?? 0) + (box?.width ?? 0) / 2, y: (box?.y ?? 0) + (box?.height ?? 0) / 2 };
  };
  const [a, b] = [await plate('gull-1'), await plate('gull-2')];
  const [mid, far] = [
    { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 },
    { x: (b.y - a.y) / 6, y: (a.x - b.x) / 6 },
  ];
  await page.getByRole('button', { name: 'Cut across' }).click();
  await page.mouse.move(mid.x - far.x, mid.y - far.y);
  await page.mouse.down();
  await page.mouse.move(mid.x + far.x, mid.y + far.y, { steps: 6 });
  const glimpse = page.getByTestId('glimpse');
  await expect(glimpse).toContainText(/^gull-1 – gull-2 down would/);
  await expect(page.getByRole('heading', { name: 'Nothing is down' })).toBeVisible();
  await page.mouse.up();
  await expect(page.getByLabel('What is down').getByRole('button')).toHaveText(['gull-1 – gull-2 ×']);
  // Escape on the way cuts nothing more.
  await page.mouse.move(mid.x - far.x, mid.y - far.y);
  await page.mouse.down();
  await page.mouse.move(mid.x + far.x, mid.y + far.y);
  await page.keyboard.press('Escape');
  await page.mouse.up();
  await expect(page.getByLabel('What is down').getByRole('button')).toHaveCount(1);
  await page.getByRole('button', { name: 'Restore all' }).click();

  const walker = page.getByRole('spinbutton', { name: 'Walk over what can fail' });
  await walker.focus();
  await expect(walker).toHaveAttribute('aria-valuenow', '1');
  await page.keyboard.press('End');
  // The very last are interfaces, which no map draws by themselves.
  await expect(walker).toHaveAttribute('aria-valuetext', /^gull-4\/to-gull-3/);
  await expect(glimpse).toContainText('gull-4/to-gull-3 down would');
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('What is down').getByRole('button')).toHaveText(['gull-4/to-gull-3 ×']);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Nothing is down' })).toBeVisible();

  // By quick entry too, in the order in which they are typed.
  await page.keyboard.press('/');
  await page.getByRole('combobox', { name: 'A line that changes the design' }).waitFor();
  await page.keyboard.insertText('fail router:gull-3 link:gull-1/to-gull-2');
  await expect(page.getByTestId('entry-preview')).toContainText('Down: router:gull-3, then link:gull-1/to-gull-2. The design stays as it is.');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Escape');
  await expect(page.getByLabel('What is down').getByRole('button')).toHaveText(['gull-3 ×', 'gull-1 – gull-2 ×']);
});

test('what links would carry: now, at worst, over capacity, relieved by a cost; a table of demands with a bad row', async ({ page }) => {
  await at(page, '/?stage=failures&tell=load');
  await expect(page.getByTestId('load')).toContainText('says nothing of traffic yet');
  await page.getByLabel('Table of demands').setInputFiles({
    name: 'demands.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('from,to,mbps\ngull-1,gull-4,150\ngull-1,gull-2,plenty\n'),
  });
  await expect(page.getByText('1 demand taken.')).toBeVisible();
  await expect(page.getByText(/demands\.csv, row 3, column mbps/)).toBeVisible();
  const table = page.getByRole('table', { name: 'What links would carry, the fullest first' });
  // Two equal ways, 75 on each.
  await expect(table.getByRole('row')).toHaveCount(5);
  await expect(table).toContainText(/gull-1\/to-gull-2gull-275no capacity said/);
  await page.getByRole('button', { name: 'Try every failure' }).click();
  await expect(table).toContainText(/gull-1\/to-gull-2gull-275150gull-1 – gull-3/);
  await enter(page, 'set bandwidth 60 on gull-1/to-gull-2');
  await expect(page.getByTestId('load')).toContainText('1 interface would carry more than it can');
  await table.getByRole('row').nth(1).click();
  await page.getByRole('button', { name: 'Which cost would relieve it?' }).click();
  // At 11 all of it goes by gull-3, of which no capacity is said.
  await expect(page.getByTestId('relief')).toContainText('At cost 11 it would carry 0 Mbit/s, and nothing is over what it can carry');
  await page.getByTestId('relief').getByRole('button', { name: 'set cost 11 on gull-1/to-gull-2' }).click();
  await page.keyboard.press('Enter');
  // What carries it now has no capacity: nothing is said of whether it can.
  await expect(page.getByTestId('load')).toContainText('of no link that carries any the design says what it can carry');
});

test('local repair: how much could be done without its link, and what would cover most', async ({ page }) => {
  await at(page, '/?stage=failures&tell=repair');
  // Of each router two neighbours by one way and without an alternate; two far cables and the opposite, by two ways, with one.
  await expect(page.getByTestId('repair')).toContainText('Of 24 next hops of routes inside the areas, in IPv4, 66.7 %');
  await page.getByRole('row', { name: /^gull-1/ }).click();
  await expect(page.getByTestId('repair-router')).toContainText('2 next hops of 6 without an alternate that does without its link');
  await expect(page.getByTestId('repair-router')).toContainText('10.96.0.2/32');
  await page.getByRole('button', { name: 'Try links and costs' }).click();
  await expect(page.getByTestId('cover-advice')).toContainText(/link gull-(1 gull-4|2 gull-3)/);
});
