import { expect, test } from '@playwright/test';
import { bring, openFresh } from './bench';
import { square } from './square';

test('a duct cuts what its two cables alone do not; two cables together are found; a case is taken down on the map', async ({ page }) => {
  await openFresh(page);
  await bring(page, square());
  await expect(page.getByText('4 routers, 1 area')).toBeVisible();
  await page
    .getByRole('link', { name: /Failures/ })
    .or(page.getByRole('button', { name: /Failures/ }))
    .first()
    .click();
  await page.getByRole('button', { name: 'Every failure' }).click();
  // Four cables, four routers and the duct, tried as soon as somebody looks.
  await expect(page.getByText('9 cases tried')).toBeVisible();
  const table = page.getByRole('table', { name: 'Every failure, the worst first' });
  // gull-1 and gull-3 on one side, gull-2 and gull-4 on the other: 2 x 2 pairs, both ways. A cable alone: 10 becomes 30.
  await expect(table.getByRole('row').nth(1)).toContainText(/shared risk duct\s*cut\s*8/);
  await expect(table.getByRole('row', { name: /gull-1 – gull-2/ })).toContainText(/longer.*20/);
  await expect(page.getByRole('button', { name: '1 cut' })).toBeVisible();
  await page.getByRole('checkbox', { name: 'and every two together' }).check();
  await page.getByRole('button', { name: 'Try every failure' }).click();
  await expect(page.getByText('45 cases tried')).toBeVisible();
  await table.getByText('gull-1 – gull-2 + gull-3 – gull-4', { exact: true }).click();
  const one = page.getByTestId('one-failure');
  await expect(one).toContainText('together; neither cuts alone');
  await expect(one).toContainText('8 pairs cut apart');
  await expect(one).toContainText('gull-2 → gull-1');
  await one.getByRole('button', { name: 'Take it down on the map' }).click();
  await expect(page.getByRole('heading', { name: 'Down now' })).toBeVisible();
  await expect(page.getByTestId('what-is-lost')).toContainText(/routes? lost/);
  await expect(page.getByLabel('What is down').getByRole('button')).toHaveCount(2);
});

test('a sweep of pairs is stopped, looked at and goes on', async ({ page }) => {
  await openFresh(page, '/?stage=failures&tell=every');
  await expect(page.getByText(/^\d+ cases tried$/)).toBeVisible({ timeout: 30_000 });
  await page.getByRole('checkbox', { name: 'and every two together' }).check();
  await page.getByRole('button', { name: 'Try every failure' }).click();
  await expect(page.getByText(/of 1,275, about/)).toBeVisible();
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
  const stopped = page.getByText(/^stopped after [\d,]+ of 1,275$/);
  await expect(stopped).toBeVisible();
  const before = await stopped.innerText();
  // What was found is there, and nothing is lost of it when it goes on.
  await page.getByRole('table', { name: 'Every failure, the worst first' }).getByRole('row').nth(1).click();
  await expect(page.getByTestId('one-failure')).toContainText('Take it down on the map');
  await page.getByRole('button', { name: 'Go on' }).click();
  await expect(page.getByText(/of 1,275, about/)).toBeVisible();
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
  await expect(stopped).toBeVisible();
  const after = await stopped.innerText();
  const number = (text: string): number => Number((/after ([\d,]+)/.exec(text)?.[1] ?? '0').replace(',', ''));
  expect(number(after)).toBeGreaterThan(number(before));
});

test('whoever leads a LAN is taken down by that name, and others lead', async ({ page }) => {
  await openFresh(page, '/?stage=failures');
  await page.getByRole('button', { name: 'Take down…' }).click();
  await page.getByLabel('Narrow what can fail').fill('leader of LAN slipway');
  await page.getByRole('list', { name: 'What can fail' }).getByRole('checkbox').first().check();
  await page.keyboard.press('Escape');
  await expect(page.getByLabel('What is down').getByText('leader of LAN slipway')).toBeVisible();
  const lost = page.getByTestId('what-is-lost');
  await expect(lost.getByRole('heading', { name: 'Led by others' })).toBeVisible();
  await expect(lost.getByRole('table', { name: 'Tables, before against after' })).toContainText(/drydock-\d, down/);
});

test('failures are kept under a name and tried again on a later version, in which they do less', async ({ page }) => {
  await openFresh(page);
  await bring(page, square());
  await expect(page.getByText('4 routers, 1 area')).toBeVisible();
  await page
    .getByRole('button', { name: /Failures/ })
    .first()
    .click();
  await page.getByRole('button', { name: 'Take down…' }).click();
  await page.getByLabel('Narrow what can fail').fill('shared risk duct');
  await page.getByRole('list', { name: 'What can fail' }).getByRole('checkbox').first().check();
  await page.keyboard.press('Escape');
  const lost = page.getByTestId('what-is-lost');
  await expect(lost.getByRole('heading', { level: 2 })).toContainText('out of reach');
  await lost.getByRole('button', { name: 'Keep it under a name…' }).click();
  await page.keyboard.press('Enter');
  await expect(page.getByText('Scenario “shared risk duct”: group:duct').first()).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(lost).toContainText('Kept as shared risk duct');
  await page.getByRole('button', { name: 'Restore all' }).click();
  // A fifth cable across the square, outside of the duct: the kept failure cuts nobody off any more.
  await page.keyboard.press('/');
  await page.getByRole('combobox', { name: 'A line that changes the design' }).waitFor();
  await page.keyboard.insertText('link gull-1 gull-4 cost 10');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('change-strip')).toBeVisible();
  await page.keyboard.press('Escape');
  await page.getByRole('list', { name: 'Kept failures' }).getByRole('button', { name: 'shared risk duct' }).click();
  await expect(lost.getByRole('heading', { level: 2 })).toContainText('Everything still reaches');
});
