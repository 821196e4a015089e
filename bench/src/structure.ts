import { chromium, type Page } from '@playwright/test';
import { black76Price } from '@umwelt/core/pricing';
import { priceLaw } from '@umwelt/core/probability';
import { type MarketDay, STRUCTURE_MEASURES, structureGrid, type ValuedLeg } from '@umwelt/core/structure';
import { smileVolatility, sviRawSmile, VolatilitySurface } from '@umwelt/core/surface';

/** Pixels that a handle is dragged at each frame, and for how many frames. */
const STEP = 2;
const FRAMES = 120;
const STEPS = 16;
const PRICES = 400;
const DAYS = 60;
const RUNS = 25;

/** How Structure's grid, hand and map stand: in this process, and on a running application (BASE_URL). */
export async function structureFigures(): Promise<void> {
  gridFigures();
  const base = process.env.BASE_URL ?? 'http://127.0.0.1:4173';
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', chromiumSandbox: false });
  try {
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

/** Four European legs of two smiles, with what is worked out of the surface for each day. */
function gridFigures(): void {
  const spot = 4800;
  const smiles = [
    sviRawSmile({ a: 0.0012, b: 0.02, rho: -0.6, m: 0.01, sigma: 0.06 }, 60 / 365),
    sviRawSmile({ a: 0.004, b: 0.04, rho: -0.55, m: 0.01, sigma: 0.1 }, 150 / 365),
  ];
  const range: readonly [number, number] = [-0.25, 0.15];
  const expiries = smiles.map((smile) => ({
    ...{ years: smile.timeToExpiry, forward: spot, discountFactor: 0.99, american: undefined },
    law: priceLaw({ smile, forward: spot, range }),
  }));
  const legs = [4500, 4700, 4900, 5100].map((strike, i): ValuedLeg => {
    const side = i < 2 ? 'put' : 'call';
    const { years, forward, discountFactor } = expiries[i % 2];
    const volatility = smileVolatility(smiles[i % 2], Math.log(strike / forward));
    const value = black76Price({ side, forward, strike, timeToExpiry: years, volatility, discountFactor });
    return { kind: 'option', side, strike, years, quantity: i % 2 === 0 ? 1 : -1, price: value, value };
  });
  const prices = Float64Array.from({ length: PRICES }, (_, i) => spot * (0.8 + (0.35 * i) / (PRICES - 1)));
  const times: number[] = [];
  for (let run = 0; run < RUNS; run++) {
    const start = performance.now();
    const surface = new VolatilitySurface(
      smiles.map((smile) => ({ smile, forward: spot })),
      { spot },
    );
    const days = Array.from({ length: DAYS }, (_, i): MarketDay | undefined => {
      const years = (i / (DAYS - 1)) * expiries[0].years;
      if (i === DAYS - 1) return undefined;
      if (i === 0) return { years, forward: spot, discountFactor: 1, law: undefined };
      const scale = Math.sqrt(years / expiries[0].years);
      const law = priceLaw({
        smile: surface.smileAt(years),
        forward: spot,
        range: [range[0] * scale, range[1] * scale],
      });
      return { years, forward: spot, discountFactor: 0.99 ** (years / expiries[0].years), law };
    });
    const found = structureGrid(legs, { expiries, days, prices, measures: STRUCTURE_MEASURES });
    if (!found.ok) throw new Error(found.reason);
    times.push(performance.now() - start);
  }
  const [first] = times;
  const sorted = times.slice(5).sort((a, b) => a - b);
  const median = sorted[sorted.length >> 1];
  console.log(
    `${legs.length} European legs, ${PRICES} prices on ${DAYS} days, profit and all Greeks, with the laws of the days: median ${median.toFixed(1)} ms, first ${first.toFixed(0)} ms (goal 50 ms: ${median < 50 ? 'reached' : 'MISSED'})`,
  );
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
