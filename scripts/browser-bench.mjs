// Measures in Chromium what a user waits for: opening a campus, an edit from the key to the new prediction on the screen,
// and the longest time between two frames meanwhile. The pages must be built.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import { freePort, launchOptions } from './chromium.mjs';
import { env, root } from './install.mjs';

const median = (list) => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)] ?? 0;

/** Runs in the page: notes the longest time between two frames from now on. */
function watchFrames() {
  window.longestFrame = 0;
  let last = performance.now();
  const look = () => {
    const now = performance.now();
    window.longestFrame = Math.max(window.longestFrame, now - last);
    last = now;
    requestAnimationFrame(look);
  };
  requestAnimationFrame(look);
}

/** Runs in the page: milliseconds from the next Enter until it is said to be done, with the new prediction on the screen, and painted. */
function fromKeyToScreen(expected) {
  window.waited = new Promise((resolve, reject) => {
    setTimeout(() => reject(new Error(`"${expected}" did not come`)), 20_000);
    let pressed;
    addEventListener(
      'keydown',
      (e) => {
        if (e.key === 'Enter') pressed ??= e.timeStamp;
      },
      { capture: true },
    );
    const look = new MutationObserver(() => {
      if (pressed === undefined || ![...document.querySelectorAll('#entry-keys')].some((x) => x.textContent.includes(expected))) return;
      look.disconnect();
      requestAnimationFrame(() => setTimeout(() => resolve(performance.now() - pressed), 0));
    });
    look.observe(document.body, { subtree: true, childList: true, characterData: true });
  });
}

/** Runs in the page: milliseconds from the next key in a field until the list beneath follows what it holds, painted. */
function fromKeyToRows(list) {
  window.waited = new Promise((resolve, reject) => {
    setTimeout(() => reject(new Error('the rows did not follow')), 20_000);
    let pressed;
    addEventListener('keydown', (e) => (pressed ??= e.timeStamp), { capture: true });
    addEventListener(
      'input',
      (e) => {
        const look = () => {
          if (document.querySelector(list)?.getAttribute('data-narrowed') !== e.target.value) requestAnimationFrame(look);
          else requestAnimationFrame(() => setTimeout(() => resolve(performance.now() - pressed), 0));
        };
        look();
      },
      { capture: true, once: true },
    );
  });
}

async function measure(browser, base, routers, areas) {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const page = await context.newPage();
  page.setDefaultTimeout(60_000);
  await page.goto(base);
  await page.getByText(/\d+ routers, \d+ areas/).waitFor();
  await page.evaluate(watchFrames);
  await page.getByRole('button', { name: 'Open or export' }).click();
  await page.getByRole('menuitem', { name: 'A made-up campus' }).click();
  await page.getByRole('dialog').getByLabel('Routers').fill(String(routers));
  await page.getByRole('dialog').getByLabel('Areas').fill(String(areas));
  await page.evaluate(() => (window.longestFrame = 0));
  const clicked = Date.now();
  await page.getByRole('button', { name: 'Make and open it' }).click();
  await page.getByText(`${routers.toLocaleString('en-GB')} routers, ${areas + 1} areas`).waitFor({ timeout: 120_000 });
  const opened = Date.now() - clicked;
  await page.waitForTimeout(1500);
  const opening = await page.evaluate(() => window.longestFrame);
  const waits = [];
  const frames = [];
  for (let i = 0; i < 12; i++) {
    await page.evaluate(() => (window.longestFrame = 0));
    await page.keyboard.press('/');
    // Not by role: looking roles up takes the page longer than what is measured.
    await page.locator('[role=combobox][aria-label^="A line"]').waitFor();
    const cost = 31 + i;
    await page.keyboard.type(`set cost ${cost} on beacon-${1 + (i % 2)}/lo`);
    await page.waitForTimeout(700);
    await page.evaluate(fromKeyToScreen, `Done: cost ${cost}`);
    await page.keyboard.press('Enter');
    const ms = await page.evaluate(() => window.waited);
    await page.keyboard.press('Escape');
    await page.waitForTimeout(700);
    if (i >= 2) {
      waits.push(ms);
      frames.push(await page.evaluate(() => window.longestFrame));
    }
  }
  // A search that lays an area open, and every stage, by keys alone.
  await page.evaluate(() => (window.longestFrame = 0));
  await page.keyboard.press('f');
  await page.keyboard.type('anemone-1', { delay: 60 });
  await page.keyboard.press('Enter');
  await page.waitForTimeout(1500);
  await page.keyboard.press('Escape');
  await page.evaluate(() => document.activeElement?.blur());
  const found = await page.evaluate(() => window.longestFrame);
  await page.evaluate(() => (window.longestFrame = 0));
  for (const key of ['3', '2', '4', '1', '3', '1']) {
    await page.keyboard.press(key);
    await page.waitForTimeout(1200);
  }
  const walked = await page.evaluate(() => window.longestFrame);
  // Pairs of neighbours, narrowed letter by letter.
  await page.keyboard.press('2');
  const field = page.locator('input[aria-label="Narrow the pairs"]');
  await field.waitFor();
  const pairs = await page.evaluate(() => Number(document.body.innerText.match(/([\d,]+) pairs? on/)?.[1].replaceAll(',', '') ?? 0));
  await field.focus();
  const narrowed = [];
  for (const word of ['anemone-1', 'area 3', 'full']) {
    await field.fill('');
    await page.waitForTimeout(600);
    for (const letter of word) {
      await page.evaluate(fromKeyToRows, '[data-narrowed]');
      await page.keyboard.press(letter === ' ' ? 'Space' : letter);
      narrowed.push(await page.evaluate(() => window.waited));
      await page.waitForTimeout(120);
    }
  }
  await context.close();
  return {
    routers,
    opened,
    opening,
    key: median(waits),
    slowest: Math.max(...waits),
    frame: Math.max(...frames),
    found,
    walked,
    pairs,
    narrow: median(narrowed),
    narrowSlowest: Math.max(...narrowed),
  };
}

/** One row for each size. */
export async function browserBench(sizes) {
  const port = await freePort();
  const server = spawn(process.execPath, [join(root, 'node_modules/next/dist/bin/next'), 'start', '-p', String(port)], {
    cwd: join(root, 'packages/web'),
    env,
    stdio: 'ignore',
  });
  const base = `http://127.0.0.1:${port}`;
  for (
    let i = 0;
    i < 100 &&
    !(await fetch(base).then(
      (r) => r.ok,
      () => false,
    ));
    i++
  )
    await new Promise((go) => setTimeout(go, 200));
  const browser = await chromium.launch(launchOptions);
  try {
    const rows = [];
    for (const [routers, areas] of sizes) rows.push(await measure(browser, base, routers, areas));
    return rows;
  } finally {
    await browser.close();
    server.kill();
  }
}
