import { chromium, type Page } from '@playwright/test';
import configuration from '../playwright.config.ts';

/** What the analyst's hand feels at 100,000 patients, measured in the browser itself. */
export async function measureInBrowser(
  address: string,
  study: string,
  list: string,
): Promise<{ name: string; taken: number[] }[]> {
  const browser = await chromium.launch(configuration.use!.launchOptions);
  try {
    const page = await browser.newPage({ viewport: configuration.use!.viewport! });
    await page.goto(`${address}/studies/${study}/held-out-check`);
    await page.getByRole('button', { name: 'Look at the held-out patients' }).click();
    await page.getByText('Positive predictive value').waitFor();
    await page.waitForTimeout(1000);
    const moves = await timeMoves(page);
    const drags = await timeDrag(page);
    await page.goto(`${address}/studies/${study}/screening?list=${list}`);
    await page.getByText('call in', { exact: true }).first().waitFor();
    await page.waitForTimeout(1000);
    return [
      { name: 'cutoff moved in the browser, work of one key press', taken: moves },
      { name: 'cutoff dragged in the browser, from one move to the next', taken: drags },
      { name: 'list scrolled in the browser, time between frames', taken: await timeScroll(page) },
    ];
  } finally {
    await browser.close();
  }
}

/** From the key press to everything on the page being up to date, without the wait for the screen. */
function timeMoves(page: Page): Promise<number[]> {
  return page.evaluate(async () => {
    const taken: number[] = [];
    for (let i = 0; i < 30; i++) {
      await new Promise((resolve) => requestAnimationFrame(resolve));
      const begun = performance.now();
      window.dispatchEvent(new KeyboardEvent('keydown', { key: '.', code: 'Period' }));
      // React works off a key press before the next task; layout is forced to count it in.
      await new Promise((resolve) => queueMicrotask(() => resolve(undefined)));
      const laidOut = document.body.offsetHeight > 0;
      if (laidOut) taken.push(performance.now() - begun);
    }
    return taken;
  });
}

/** Moves are handed on once a frame, about every 17 ms, where drawing keeps up. */
async function timeDrag(page: Page): Promise<number[]> {
  const marker = page.getByRole('slider', { name: 'Cutoff, held-out patients' });
  const box = (await marker.boundingBox())!;
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  const taken: number[] = [];
  for (let i = 0; i < 60; i++) {
    const begun = performance.now();
    await page.mouse.move(x + 3 * (i % 20), y);
    taken.push(performance.now() - begun);
  }
  await page.mouse.up();
  return taken;
}

function timeScroll(page: Page): Promise<number[]> {
  return page.evaluate(async () => {
    const list = document.querySelector('[role=table]')!;
    const taken: number[] = [];
    let last = performance.now();
    for (let i = 0; i < 200; i++) {
      list.scrollTop += 100;
      await new Promise((resolve) => requestAnimationFrame(resolve));
      const now = performance.now();
      taken.push(now - last);
      last = now;
    }
    return taken;
  });
}
