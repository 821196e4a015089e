import { chromium, type Page } from '@playwright/test';

const STEPS = 60;
/** The first ones are slower than an analyst who has looked for a minute will see. */
const WARMUP = 5;
const SYMBOLS = ['KELPA', 'VM50', 'MERRO', 'RYE', 'TERN', 'PELAG'];

/**
 * Time from the key to the new picture in Chromium on a running application (BASE_URL): a step to another session by view, another
 * view, another underlying.
 */
export async function steppingFigures(): Promise<void> {
  const base = process.env.BASE_URL ?? 'http://127.0.0.1:4173';
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', chromiumSandbox: false });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    // The loader names functions by a helper that the page does not have.
    await page.addInitScript('globalThis.__name = (f) => f');
    for (const view of ['term', 'skew', 'chain']) {
      await open(page, `${base}/${view}/KELPA`);
      const times: number[] = [];
      for (let step = 0; step < STEPS; step++)
        // The instant on the screen is the next session's.
        times.push(await timeUntil(page, 'header time', 'datetime', { key: '{' }));
      tell(`step to another session, ${view}`, times);
    }
    await levelFigures(page, base);
    await open(page, `${base}/term/VM50`);
    const byKey: [string, string][] = [
      ['4', 'skew'],
      ['5', 'chain'],
      ['3', 'term'],
    ];
    const switched = new Map<string, number[]>();
    for (let step = 0; step < STEPS; step++) {
      const [key, view] = byKey[step % byKey.length];
      const time = await timeUntil(page, 'nav[aria-label="Views"] a[aria-current]', 'href', { key });
      switched.set(view, [...(switched.get(view) ?? []), time]);
      await settled(page);
    }
    for (const [view, times] of switched) tell(`from another view to ${view}, VM50`, times);
    for (const view of ['term', 'skew', 'chain']) {
      await open(page, `${base}/${view}/${SYMBOLS[0]}`);
      const times: number[] = [];
      for (let step = 1; step <= STEPS / 2; step++) {
        const symbol = SYMBOLS[step % SYMBOLS.length];
        await searchFor(page, symbol);
        times.push(await timeUntil(page, 'header h1 span', 'text', { enter: true }));
        await settled(page);
      }
      tell(`another underlying, ${view}`, times);
    }
  } finally {
    await browser.close();
  }
}

/** Level asks for its own answer beside the picture: until that is drawn. */
async function levelFigures(page: Page, base: string): Promise<void> {
  const shown = ['[data-testid=level]', 'data-stamp'] as const;
  await open(page, `${base}/level/KELPA`);
  await page.locator(shown[0]).waitFor();
  const steps: number[] = [];
  for (let step = 0; step < STEPS / 2; step++) {
    steps.push(await timeUntil(page, ...shown, { key: '{' }));
    await settled(page);
  }
  tell('step to another session, level', steps);
  const changes: number[] = [];
  for (let step = 1; step <= STEPS / 2; step++) {
    await searchFor(page, SYMBOLS[step % SYMBOLS.length]);
    changes.push(await timeUntil(page, ...shown, { enter: true }));
    await settled(page);
  }
  tell('another underlying, level', changes, 250);
}

/** Finds an underlying in the search; Enter then opens it. */
async function searchFor(page: Page, symbol: string): Promise<void> {
  await page.keyboard.press('/');
  await page.getByLabel('Symbol, name or date').fill(symbol);
  await page
    .getByRole('option', { name: new RegExp(`^${symbol}\\b`) })
    .first()
    .waitFor();
}

async function open(page: Page, address: string): Promise<void> {
  await page.goto(address);
  await page.locator('body[data-live]').waitFor();
  await settled(page);
}

/** Until all is drawn and what comes next has been fetched: it must not wait for what came before. */
function settled(page: Page): Promise<void> {
  return page.waitForTimeout(250);
}

/** Milliseconds from a key until something on the page is another and has been painted. */
function timeUntil(
  page: Page,
  selector: string,
  what: 'datetime' | 'href' | 'text' | 'data-stamp',
  o: { key: string } | { enter: true },
): Promise<number> {
  return page.evaluate(
    ({ selector: where, what: told, o: act }) =>
      new Promise<number>((resolve) => {
        const read = () => {
          const found = document.querySelector(where);
          return told === 'text' ? found?.textContent : found?.getAttribute(told);
        };
        const before = read();
        const start = performance.now();
        const observer = new MutationObserver(() => {
          const now = read();
          // What has gone, as while another is fetched, is not drawn yet.
          if (now === undefined || now === null || now === before) return;
          observer.disconnect();
          requestAnimationFrame(() => setTimeout(() => resolve(performance.now() - start)));
        });
        observer.observe(document.body, { subtree: true, childList: true, attributes: true, characterData: true });
        const key = (at: EventTarget, name: string) =>
          at.dispatchEvent(new KeyboardEvent('keydown', { key: name, bubbles: true, cancelable: true }));
        if ('enter' in act) key(document.activeElement ?? window, 'Enter');
        else key(window, act.key);
      }),
    { selector, what, o },
  );
}

function tell(what: string, times: readonly number[], goal = 150): void {
  const sorted = times.slice(times.length > 2 * WARMUP ? WARMUP : 1).sort((a, b) => a - b);
  const median = sorted[sorted.length >> 1];
  const tail = sorted[Math.floor(0.95 * sorted.length)];
  console.log(
    `${what}: median ${median.toFixed(0)} ms, 95 % below ${tail.toFixed(0)} ms (goal ${goal} ms: ${median <= goal ? 'reached' : 'MISSED'})`,
  );
}
