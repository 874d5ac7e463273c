import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { bring, openFresh } from './bench';

test('a finding is accepted with a note, stays so after a reload, and is taken back', async ({ page }) => {
  await openFresh(page);
  const errors = page.getByRole('navigation', { name: 'Course of work' });
  await expect(errors).toContainText('6 errors');
  await page.goto('/?stage=layout&router=drydock-4');
  await page.getByRole('button', { name: 'Accept as it is…' }).first().click();
  await page.getByLabel('Why is it right as it is?').fill('1 ferry sails until Friday');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Accepted: 1 ferry sails until Friday')).toBeVisible();
  await expect(errors).toContainText('5 errors');
  await page.reload();
  await expect(page.getByText('Accepted: 1 ferry sails until Friday')).toBeVisible();
  await page.getByRole('button', { name: 'Take back' }).click();
  await expect(errors).toContainText('6 errors');
  await page.keyboard.press('Control+z');
  await expect(errors).toContainText('5 errors');
});

test('every value of a router says where it comes from, a profile among them', async ({ page }) => {
  await openFresh(page);
  const settings = {
    'gentle-compass:settings': {
      profile: [{ name: 'forest edge', router: ['kelp-4'], ospf: { paths: 3 } }],
      expectation: [
        { name: 'the two of them', kind: 'neighbours', router: 'kelp-4', count: 1 },
        { name: 'far away', kind: 'reach', from: '10.97.12.20', to: '10.97.200.1' },
      ],
    },
  };
  await bring(page, [
    ...['kelp-1', 'kelp-4'].map((n) => ({ name: `${n}.json`, content: readFileSync(`../../demo/saltmarsh-point/${n}.json`) })),
    { name: 'settings.json', content: JSON.stringify(settings) },
  ]);
  await expect(page.getByRole('listitem').filter({ hasText: 'the two of them' })).toContainText('holds');
  await expect(page.getByRole('listitem').filter({ hasText: 'far away' })).toContainText('broken');
  await page.goto('/?stage=layout&router=kelp-4');
  await expect(page.getByText('follows the profile “forest edge”')).toBeVisible();
  await page.getByRole('button', { name: 'All values, and where each comes from' }).click();
  await expect(page.getByRole('row', { name: 'equal-cost paths 3 profile' })).toBeVisible();
  await expect(page.getByRole('row', { name: 'border model rfc3509 standard' })).toBeVisible();
});

test('tables and worksheets are saved as files', async ({ page }) => {
  await openFresh(page);
  const menu = page.getByRole('button', { name: 'Open or export' });
  await menu.click();
  await page.getByRole('menuitem', { name: 'A table as CSV' }).focus();
  await page.keyboard.press('ArrowRight');
  await page.getByRole('menuitem', { name: 'findings' }).focus();
  const [csv] = await Promise.all([page.waitForEvent('download'), page.keyboard.press('Enter')]);
  expect(csv.suggestedFilename()).toBe('saltmarsh-point-before-review-findings.csv');
  expect(readFileSync(await csv.path(), 'utf8').split('\r\n')).toHaveLength(1 + 13 + 12 + 3 + 1);
  await menu.click();
  const [zip] = await Promise.all([page.waitForEvent('download'), page.getByRole('menuitem', { name: 'Worksheets' }).click()]);
  expect(
    readFileSync(await zip.path())
      .subarray(0, 2)
      .toString(),
  ).toBe('PK');
});

test('a made-up campus of the size asked for is opened; numbers that do not fit are told', async ({ page }) => {
  await openFresh(page);
  await page.getByRole('button', { name: 'Open or export' }).click();
  await page.getByRole('menuitem', { name: 'A made-up campus' }).click();
  const dialog = page.getByRole('dialog', { name: 'A made-up campus' });
  await dialog.getByLabel('Routers').fill('3');
  await dialog.getByRole('button', { name: 'Make and open it' }).click();
  await expect(dialog.getByRole('status')).toContainText('need at least 17 routers');
  await dialog.getByLabel('Routers').fill('300');
  await dialog.getByLabel('Areas').fill('12');
  await dialog.getByRole('button', { name: 'Make and open it' }).click();
  await expect(page.getByRole('navigation', { name: 'Course of work' })).toContainText('300 routers, 13 areas', { timeout: 20_000 });
  await expect(page.getByText('Nothing stands in the way')).toBeVisible();
});
