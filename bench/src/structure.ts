import { readFileSync } from 'node:fs';
import { chromium, type Browser, type Page } from '@playwright/test';
import { GRID, gridTimes } from './structure-grid.ts';

/** Pixels that a handle is dragged at each frame, and for how many frames. */
const STEP = 2;
const FRAMES = 120;
const STEPS = 16;

/** How Structure's grid, hand and map stand: in this process, and on a running application (BASE_URL). */
export async function structureFigures(): Promise<void> {
  sayGrid('one thread of Node', gridTimes());
  const base = process.env.BASE_URL ?? 'http://127.0.0.1:4173';
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', chromiumSandbox: false });
  try {
    sayGrid("a browser's worker", await timesInWorker(browser));
    for (const [symbol, strikes] of [
      ['VM50', [4400, 4500, 5000, 5100]],
      ['KELPA', [90, 92.5, 105, 107.5]],
    ] as const) {
      const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
      // The loader names functions by a helper that the page does not have.
      await page.addInitScript('globalThis.__name = (f) => f');
      const legs = strikes.map((k, i) => `${[1, -1, -1, 1][i]}~2031-04-18~${k}~${i < 2 ? 'put' : 'call'}`).join(',');
      await page.goto(`${base}/structure/${symbol}?legs=${legs}&day=10`);
      await page.locator('body[data-live]').waitFor();
      await page.locator('[data-testid=structure-map] [data-ready=true]').waitFor();
      await page.waitForTimeout(1500);
      for (const [what, label] of [
        ['the price', 'Price that is looked at'],
        ['the day', 'Day that is looked at, days from now'],
      ]) {
        const drag = await dragged(page, label, what === 'the price' ? 'x' : 'y');
        console.log(
          `${symbol}, ${what} dragged by ${STEP} pixels a frame: ${drag.perSecond.toFixed(0)} frames a second, longest ${drag.longest.toFixed(0)} ms, other figures in ${drag.changed} of ${FRAMES} (goal 30 a second: ${drag.perSecond >= 30 ? 'reached' : 'MISSED'})`,
        );
      }
      const stepped = await strikeSteps(page);
      console.log(
        `${symbol}, a strike stepped by key: profile after ${stepped.profile.toFixed(0)} ms, map after ${stepped.map.toFixed(0)} ms, medians of ${STEPS} (it may lag 150: ${stepped.map - stepped.profile <= 150 ? 'reached' : 'MISSED'})`,
      );
      await page.close();
    }
  } finally {
    await browser.close();
  }
}

/** Runs before one counts: until then the thread still compiles. */
const WARM = 5;

function sayGrid(where: string, times: readonly number[]): void {
  const [first] = times;
  const sorted = times.slice(WARM).sort((a, b) => a - b);
  const median = sorted[sorted.length >> 1];
  console.log(
    `${GRID.legs} European legs, ${GRID.prices} prices on ${GRID.days} days, profit and all Greeks, with the laws of the days, in ${where}: median ${median.toFixed(1)} ms, first ${first.toFixed(0)} ms (goal 50 ms: ${median < 50 ? 'reached' : 'MISSED'})`,
  );
}

/** The same in a worker of its own, which is what the views compute in. */
async function timesInWorker(browser: Browser): Promise<number[]> {
  // Bundled beside this.
  const script = readFileSync(new URL('structure-grid.worker.js', import.meta.url), 'utf8');
  const page = await browser.newPage();
  const times = await page.evaluate(
    (code) =>
      new Promise<number[]>((resolve, reject) => {
        const worker = new Worker(URL.createObjectURL(new Blob([code], { type: 'text/javascript' })));
        worker.onmessage = (event) => resolve(event.data as number[]);
        worker.onerror = (event) => reject(new Error(event.message));
      }),
    script,
  );
  await page.close();
  return times;
}

function dragged(
  page: Page,
  label: string,
  along: 'x' | 'y',
): Promise<{ perSecond: number; longest: number; changed: number }> {
  return page.evaluate(
    ([name, axis, step, frames]) =>
      new Promise((resolve) => {
        const handle = document.querySelector(`[role=slider][aria-label="${name}"]`) as SVGGElement;
        const box = handle.getBoundingClientRect();
        let [x, y] = [box.x + box.width / 2, box.y + box.height - 10];
        const event = (kind: string) =>
          new PointerEvent(kind, {
            ...{ bubbles: true, cancelable: true, pointerId: 1, button: 0, isPrimary: true, clientX: x, clientY: y },
          });
        // A made-up pointer cannot be captured.
        handle.setPointerCapture = () => undefined;
        const svg = handle.ownerSVGElement;
        if (svg) svg.setPointerCapture = () => undefined;
        handle.dispatchEvent(event('pointerdown'));
        const figures = () => document.querySelector('[data-testid=looked-at]')?.textContent;
        let [n, changed, longest, before] = [0, 0, 0, figures()];
        const start = performance.now();
        let last = start;
        requestAnimationFrame(function frame(now) {
          longest = n > 0 ? Math.max(longest, now - last) : 0;
          last = now;
          if (figures() !== before) changed++;
          before = figures();
          const by = n < frames / 2 ? -step : step;
          if (axis === 'x') x += by;
          else y += by / 2;
          handle.dispatchEvent(event('pointermove'));
          if (++n < frames) requestAnimationFrame(frame);
          else {
            handle.dispatchEvent(event('pointerup'));
            resolve({ perSecond: (1000 * n) / (now - start), longest, changed });
          }
        });
      }),
    [label, along, STEP, FRAMES] as const,
  );
}

/** From a key on a strike to the profile that is drawn anew, and to the map that is no longer dimmed. */
async function strikeSteps(page: Page): Promise<{ profile: number; map: number }> {
  const times: { profile: number; map: number }[] = [];
  for (let n = 0; n < STEPS; n++) {
    times.push(
      await page.evaluate(
        (key) =>
          new Promise<{ profile: number; map: number }>((resolve) => {
            const strike = document.querySelector('[data-testid=legs] button[aria-label^="Strike"]') as HTMLElement;
            const line = () => document.querySelector('[data-testid=profile] [data-line=front]')?.getAttribute('d');
            const isOld = () => document.querySelector('[data-testid=structure-map]')?.classList.contains('opacity-60');
            const before = line();
            const start = performance.now();
            let profile: number | undefined;
            strike.focus();
            strike.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
            requestAnimationFrame(function frame() {
              if (profile === undefined && line() !== before) profile = performance.now() - start;
              if (profile !== undefined && !isOld()) resolve({ profile, map: performance.now() - start });
              else requestAnimationFrame(frame);
            });
          }),
        n % 2 === 0 ? 'ArrowUp' : 'ArrowDown',
      ),
    );
    await page.waitForTimeout(400);
  }
  const median = (of: 'profile' | 'map') => {
    const sorted = times.slice(2).map((t) => t[of]);
    sorted.sort((a, b) => a - b);
    return sorted[sorted.length >> 1];
  };
  return { profile: median('profile'), map: median('map') };
}
