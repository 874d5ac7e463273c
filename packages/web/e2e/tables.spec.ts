import { expect, test, type Page } from '@playwright/test';
import { bring, openFresh } from './bench';

const cellOf = (page: Page, row: RegExp, column: number) => page.getByRole('row', { name: row }).getByRole('gridcell').nth(column);

/** Puts text on the clipboard as another program would, and pastes it into what has the focus. */
async function paste(page: Page, text: string): Promise<void> {
  await page.evaluate((t) => {
    const data = new DataTransfer();
    data.setData('text/plain', t);
    document.activeElement?.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
  }, text);
}

/** What a copy of the marked cells would put on the clipboard. */
const copied = (page: Page): Promise<string> =>
  page.evaluate(() => {
    const data = new DataTransfer();
    document.activeElement?.dispatchEvent(new ClipboardEvent('copy', { clipboardData: data, bubbles: true, cancelable: true }));
    return data.getData('text/plain');
  });

test('a table is sorted, narrowed and typed over by keyboard; what is typed is judged before it stands', async ({ page }) => {
  await openFresh(page);
  await page.getByRole('button', { name: 'Tables' }).click();
  await expect(page.getByRole('grid', { name: 'Interfaces' })).toBeVisible();
  await page.getByLabel('Narrow the table').fill('kelp-1');
  await expect(page.getByText(/\d+ of 85 rows/)).toBeVisible();
  const cost = cellOf(page, /^kelp-1 to-kelp-3 /, 5);
  await expect(cost).toHaveText('20');
  await cost.click();
  await page.keyboard.type('35');
  await expect(page.getByTestId('typing-bar')).toContainText('cost 35 on kelp-1/to-kelp-3');
  await expect(page.getByTestId('typing-bar')).toContainText(/routes? changed/);
  await page.keyboard.press('Enter');
  await expect(cost).toHaveText('35');
  await expect(page.getByTestId('change-strip')).toContainText('cost 35 on kelp-1/to-kelp-3');
  // The focus has gone on to the cell below.
  await expect(page.locator('[data-cell]:focus')).toHaveCount(1);
  // What cannot stand is refused with what could, and nothing is changed.
  const address = cellOf(page, /^kelp-1 to-kelp-3 /, 2);
  await address.click();
  await page.keyboard.type('10.97.66.9/29');
  await expect(page.getByTestId('typing-bar')).toContainText('overlaps 10.97.66.0/24 of drydock-');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('textbox', { name: 'address of kelp-1/to-kelp-3' })).toHaveValue('10.97.66.9/29');
  await page.getByTestId('typing-bar').getByRole('button').last().click();
  await expect(page.getByTestId('change-strip')).toContainText('kelp-1/to-kelp-3 has');
  await page.keyboard.press('Escape');
  await page.getByRole('columnheader', { name: 'cost' }).getByRole('button').click();
  await page.getByRole('columnheader', { name: 'cost' }).getByRole('button').click();
  await expect(page.getByRole('row').nth(1)).toContainText('35');
  // The view has an address of its own.
  await page.reload();
  await expect(page.getByRole('grid', { name: 'Interfaces' })).toBeVisible();
});

test('cells go out to a spreadsheet and come back; wrong ones are told one by one with line and column', async ({ page }) => {
  await openFresh(page, '/?table=interfaces');
  await page.getByLabel('Narrow the table').fill('beacon-1');
  await cellOf(page, /^beacon-1 to-kelp-1 /, 5).click();
  await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('Shift+ArrowDown');
  expect(await copied(page)).toBe('10\t10\r\n10\t10');
  await cellOf(page, /^beacon-1 to-kelp-1 /, 5).click();
  await paste(page, '11\t10\r\ndear\t10\r\n13\t10\r\n');
  await expect(page.getByTestId('change-strip')).toContainText('2 cells of interfaces');
  await expect(cellOf(page, /^beacon-1 to-kelp-1 /, 5)).toHaveText('11');
  const told = page.getByRole('list', { name: 'What could not be taken over' });
  await expect(told.getByRole('listitem')).toHaveCount(1);
  await expect(told).toContainText('line 2, column 1');
  await expect(told).toContainText('"dear" is no cost');
  // With its header line, rows are found by name, whatever the order.
  await paste(page, 'interface\trouter\tcost\r\nto-kelp-1\tbeacon-1\t21\r\nto-nowhere\tbeacon-1\t5\r\n');
  await expect(cellOf(page, /^beacon-1 to-kelp-1 /, 5)).toHaveText('21');
  await expect(told).toContainText('Line 3: the table has no row for beacon-1, to-nowhere.');
  // One undo takes a paste back as a whole.
  await page.getByTestId('change-strip').getByRole('button', { name: 'Undo' }).click();
  await expect(cellOf(page, /^beacon-1 to-kelp-1 /, 5)).toHaveText('11');
});

test('the address plan, links and static routes are changed where they stand', async ({ page }) => {
  await openFresh(page, '/?table=links');
  const link = cellOf(page, /^kelp-1 to-kelp-3 /, 3);
  await link.click();
  await page.keyboard.type('10.97.9.0/31');
  await page.keyboard.press('Enter');
  await expect(link).toHaveText('10.97.9.0/31');
  await page.getByRole('button', { name: 'Address plan' }).click();
  await expect(page.getByRole('row', { name: /link 10\.97\.9\.0\/31/ })).toBeVisible();
  await page.getByRole('button', { name: 'Static routes' }).click();
  // The cells of this table, not those of the one that goes.
  const hop = page.getByRole('grid', { name: 'Static routes' }).getByRole('gridcell').nth(2);
  await hop.click();
  await page.keyboard.type('203.0.113.77');
  await page.keyboard.press('Enter');
  await expect(hop).toHaveText('203.0.113.77');
  await page.getByRole('button', { name: 'Routers', exact: true }).click();
  const name = page
    .getByRole('row', { name: /^kelp-5 / })
    .getByRole('gridcell')
    .first();
  await name.click();
  await page.keyboard.press('Enter');
  await page.keyboard.press('Control+a');
  await page.keyboard.type('limpet-1');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('row', { name: /^limpet-1 / })).toBeVisible();
  await page.getByRole('button', { name: 'Back to the map' }).click();
  await expect(page.locator('[data-router="limpet-1"]')).toBeVisible();
});

test('quick entry tells what an address would bring, and offers what would do', async ({ page }) => {
  await openFresh(page);
  await page.keyboard.press('/');
  await page.keyboard.type('link kelp-1 kelp-2 subnet 10.96.128.0/31');
  await expect(page.getByTestId('entry-error')).toContainText('overlaps 10.96.128.0/31 of beacon-1');
  // Before the length is typed, the address alone overlaps too, and a host's subnet is offered.
  await expect(page.getByRole('option', { name: /^link kelp-1 kelp-2 subnet 10\.96\.128\.\d+\/31/ })).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('entry-preview')).toContainText('Link kelp-1 and kelp-2 by');
  await page.keyboard.press('Escape');
  await page.keyboard.press('/');
  await page.keyboard.type('set mtu 1400 on beacon-1/to-kelp-1');
  const preview = page.getByTestId('entry-preview');
  await expect(preview).toContainText(/error.*MTU/);
  await preview
    .getByRole('button', { name: /^and: / })
    .first()
    .click();
  await expect(page.getByTestId('change-strip')).toContainText('mtu 1400');
});

test('tables stay quick with thousands of rows', async ({ page }) => {
  await openFresh(page);
  await bring(page, []);
  await page.getByRole('button', { name: /Open or export/ }).click();
  await page.getByRole('menuitem', { name: /A made-up campus/ }).click();
  await page.getByRole('dialog').getByLabel('Routers').fill('500');
  await page.getByRole('button', { name: 'Make and open it' }).click();
  await expect(page.getByText('500 routers,')).toBeVisible();
  await page.getByRole('button', { name: 'Tables' }).click();
  const rows = page.getByText(/^[\d,]+ rows$/);
  await expect(rows).toBeVisible();
  expect(Number((await rows.textContent())?.replace(/\D/g, ''))).toBeGreaterThan(2_000);
  // Only what is in sight is drawn.
  expect(await page.getByRole('row').count()).toBeLessThan(80);
  await page.getByRole('gridcell').first().click();
  await page.keyboard.press('Control+End');
  await expect(page.locator('[data-cell]:focus')).toBeVisible();
  for (const name of ['Routers', 'Links', 'Address plan', 'Static routes']) {
    await page.getByRole('button', { name, exact: true }).click();
    await expect(page.getByRole('grid', { name })).toBeVisible();
  }
});

test('the worksheet of every router prints on one page, with nothing of the application around it', async ({ page }) => {
  await openFresh(page);
  for (const router of ['kelp-1', 'beacon-1', 'harbour-exit']) {
    await page.goto(`/?router=${router}`);
    await page.getByRole('button', { name: 'Worksheet', exact: true }).click();
    await expect(page.getByRole('article', { name: `Worksheet of ${router}` }).getByRole('heading', { name: 'Interfaces' })).toBeVisible();
    const paper = (await page.pdf({ preferCSSPageSize: true })).toString('latin1');
    expect(paper.match(/\/Type\s*\/Page\b/g)).toHaveLength(1);
  }
  await page.emulateMedia({ media: 'print' });
  await expect(page.getByRole('navigation', { name: 'Course of work' })).toBeHidden();
  await page.emulateMedia({ media: 'screen' });
  await page.getByRole('button', { name: 'Back to the map' }).click();
  await expect(page.locator('[data-router="harbour-exit"]')).toBeVisible();
});
