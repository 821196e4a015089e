import { chromium } from '@playwright/test';

/** Pixels that the line is dragged at each frame, and for how many frames. */
const STEP = 2;
const FRAMES = 120;
const STEPS = 24;

/** How Range follows a hand and a step on a running application (BASE_URL): frames with a new matrix, key to the new chart. */
export async function rangeFigures(): Promise<void> {
  const base = process.env.BASE_URL ?? 'http://127.0.0.1:4173';
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', chromiumSandbox: false });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    // The loader names functions by a helper that the page does not have.
    await page.addInitScript('globalThis.__name = (f) => f');
    await page.goto(`${base}/range/VM50?expiry=2031-04-18`);
    await page.locator('body[data-live]').waitFor();
    await page.locator('[data-testid=odds-matrix] tr[data-key=smile]').waitFor();
    await page.waitForTimeout(1000);
    const drag = await page.evaluate(
      ([step, frames]) =>
        new Promise<{ perSecond: number; longest: number; changed: number }>((resolve) => {
          const line = document.querySelector('[role=slider][aria-orientation=vertical]') as SVGGElement;
          const box = line.getBoundingClientRect();
          const at = (y: number) => ({
            ...{ bubbles: true, cancelable: true, pointerId: 1, button: 0, isPrimary: true },
            ...{ clientX: box.x + box.width / 2, clientY: y },
          });
          // A made-up pointer cannot be captured.
          line.setPointerCapture = () => undefined;
          let y = box.y + box.height / 2;
          line.dispatchEvent(new PointerEvent('pointerdown', at(y)));
          const cell = () =>
            document.querySelector('[data-testid=odds-matrix] tr[data-key=smile] td[data-column=volatility]')
              ?.textContent;
          let [n, changed, longest, before] = [0, 0, 0, cell()];
          const start = performance.now();
          let last = start;
          requestAnimationFrame(function frame(now) {
            longest = n > 0 ? Math.max(longest, now - last) : 0;
            last = now;
            if (cell() !== before) changed++;
            before = cell();
            y += n < frames / 2 ? -step : step;
            line.dispatchEvent(new PointerEvent('pointermove', at(y)));
            if (++n < frames) requestAnimationFrame(frame);
            else {
              line.dispatchEvent(new PointerEvent('pointerup', at(y)));
              resolve({ perSecond: (1000 * n) / (now - start), longest, changed });
            }
          });
        }),
      [STEP, FRAMES],
    );
    console.log(
      `a line dragged by ${STEP} pixels a frame: ${drag.perSecond.toFixed(0)} frames a second, longest ${drag.longest.toFixed(0)} ms, another figure in ${drag.changed} of ${FRAMES} (goal 30 a second: ${drag.perSecond >= 30 ? 'reached' : 'MISSED'})`,
    );
    const times: number[] = [];
    for (let n = 0; n < STEPS; n++) {
      times.push(
        await page.evaluate(
          () =>
            new Promise<number>((resolve) => {
              const stamp = () => document.querySelector('[data-testid=range]')?.getAttribute('data-stamp');
              const before = stamp();
              const start = performance.now();
              const observer = new MutationObserver(() => {
                if (stamp() === before) return;
                observer.disconnect();
                requestAnimationFrame(() => setTimeout(() => resolve(performance.now() - start)));
              });
              observer.observe(document.body, { subtree: true, childList: true, attributes: true });
              window.dispatchEvent(new KeyboardEvent('keydown', { key: '{', bubbles: true, cancelable: true }));
            }),
        ),
      );
      await page.waitForTimeout(400);
    }
    const sorted = times.slice(2).sort((a, b) => a - b);
    const median = sorted[sorted.length >> 1];
    console.log(
      `step to another session, range: median ${median.toFixed(0)} ms, longest ${sorted[sorted.length - 1].toFixed(0)} ms (goal 300 ms: ${median <= 300 ? 'reached' : 'MISSED'})`,
    );
  } finally {
    await browser.close();
  }
}
