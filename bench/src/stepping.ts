import { chromium } from '@playwright/test';

const STEPS = 60;

/** Time from the key to the picture of the next session, in Chromium on a running application (BASE_URL). */
export async function steppingFigures(): Promise<void> {
  const base = process.env.BASE_URL ?? 'http://127.0.0.1:4173';
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', chromiumSandbox: false });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    for (const view of ['term', 'skew', 'chain']) {
      await page.goto(`${base}/${view}/KELPA`);
      await page.locator('body[data-live]').waitFor();
      const times: number[] = [];
      for (let step = 0; step < STEPS; step++) {
        // From the key until the instant and the price on the screen are the next session's and have been painted.
        const time = await page.evaluate(
          () =>
            new Promise<number>((resolve) => {
              const shown = document.querySelector('header time');
              const start = performance.now();
              const observer = new MutationObserver(() => {
                observer.disconnect();
                requestAnimationFrame(() => setTimeout(() => resolve(performance.now() - start)));
              });
              observer.observe(shown as Node, { attributes: true });
              window.dispatchEvent(new KeyboardEvent('keydown', { key: '{', bubbles: true }));
            }),
        );
        if (step >= 5) times.push(time);
      }
      times.sort((a, b) => a - b);
      const median = times[times.length >> 1];
      const tail = times[Math.floor(0.95 * times.length)];
      console.log(
        `step to another session, ${view}: median ${median.toFixed(0)} ms, 95 % below ${tail.toFixed(0)} ms (goal 150 ms: ${median <= 150 ? 'reached' : 'MISSED'})`,
      );
    }
  } finally {
    await browser.close();
  }
}
