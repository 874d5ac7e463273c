import { chromium } from '@playwright/test';
import { launchOptions } from '/work/main/scripts/chromium.mjs';
export const browser = await chromium.launch(launchOptions);
export async function look(name, url, act, viewport = { width: 1280, height: 800 }, scheme='light') {
  const context = await browser.newContext({ viewport, colorScheme: scheme });
  const page = await context.newPage();
  await page.goto('http://127.0.0.1:4433' + url);
  await page.getByText(/\d+ routers, \d+ areas/).waitFor();
  await page.waitForTimeout(500);
  if (act) await act(page);
  await page.waitForTimeout(700);
  await page.screenshot({ path: `/tmp/${name}.png` });
  await context.close();
}
export const type = async (page, line, enter=false) => { await page.keyboard.press('/'); await page.getByRole('combobox', { name: 'A line that changes the design' }).waitFor(); await page.keyboard.type(line); await page.waitForTimeout(700); if (enter) { await page.keyboard.press('Enter'); await page.waitForTimeout(900); await page.keyboard.press('Escape'); } };
