import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, type Page } from '@playwright/test';

/** Opens the page and waits until the chart stands. */
export async function openFresh(page: Page, query = '/'): Promise<void> {
  await page.goto(query);
  await expect(page.getByRole('navigation', { name: 'Course of work' }).getByText(/\d+ routers?, \d+ areas?/)).toBeVisible();
}

/** Puts a file on disk into the importer, as the file picker does: its octets do not pass through the page. */
export async function bringFromDisk(page: Page, name: string, content: Uint8Array): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'gentle-compass-brought-'));
  writeFileSync(join(folder, name), content);
  await page.getByLabel('Files to open').setInputFiles(join(folder, name));
}

/** Puts files into the importer, as the file picker would. */
export async function bring(page: Page, files: readonly { readonly name: string; readonly content: string | Buffer }[]): Promise<void> {
  await page
    .getByLabel('Files to open')
    .setInputFiles(files.map((f) => ({ name: f.name, mimeType: 'application/octet-stream', buffer: Buffer.from(f.content) })));
}

/** All lines of the open route table, as text; the table is scrolled through. */
export async function tableText(page: Page): Promise<string[]> {
  const rows = new Set<string>();
  const body = page.getByRole('table').getByRole('rowgroup');
  await body.evaluate((el) => (el.scrollTop = 0));
  for (let i = 0; i < 60; i++) {
    for (const t of await body.getByRole('row').allInnerTexts()) rows.add(t.replace(/\s+/g, ' ').trim());
    const done = await body.evaluate((el) => {
      const before = el.scrollTop;
      el.scrollTop += 300;
      return el.scrollTop === before;
    });
    // Two frames and a moment: the rows of the new place are drawn, however loaded the machine is.
    await page.evaluate(() => new Promise((drawn) => requestAnimationFrame(() => requestAnimationFrame(() => setTimeout(drawn, 30)))));
    if (done) break;
  }
  return [...rows].sort();
}
