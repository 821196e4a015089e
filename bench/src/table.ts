import { chromium } from '@playwright/test';

const ROWS = 10_000;
const SECONDS = 4;
const ROUNDS = 3;
/** Pixels a frame; as fast as a hand drags the bar through some thousands of rows. */
const SPEED = 600;

/** Frames a second while a table of ten thousand rows is scrolled through, in Chromium on a running application (BASE_URL). */
export async function tableFigures(): Promise<void> {
  const base = process.env.BASE_URL ?? 'http://127.0.0.1:4173';
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', chromiumSandbox: false });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    const trades = Array.from({ length: ROWS }, (_, i) => ({
      instant: `2031-03-14T13:00:${String(i % 60).padStart(2, '0')}+01:00`,
      kind: 'outright',
      legs: [{ expiry: '2031-04-18', side: 'call', strike: 80 + (i % 40), ratio: 1 }],
      ...{ price: 1 + i / 7, size: (i * 7919) % 1000, bid: 1, ask: 2 },
    }));
    const json = { symbol: 'RYE', asOf: '2031-03-14T14:00:00+01:00', trades };
    await page.route('**/api/v1/underlyings/RYE/trades?*', (route) => route.fulfill({ json }));
    await page.goto(`${base}/chain/RYE?table=prints`);
    await page.locator('body[data-live]').waitFor();
    await page.getByRole('button', { name: 'all', exact: true }).last().click();
    await page.locator(`[data-testid=prints][aria-rowcount="${ROWS + 1}"]`).waitFor();
    const rates: number[] = [];
    let longest = 0;
    let blank = 0;
    for (let round = 0; round < ROUNDS; round++) {
      const told = await page.evaluate(scrolled, { seconds: SECONDS, speed: SPEED });
      rates.push(told.rate);
      longest = Math.max(longest, told.longest);
      blank = Math.max(blank, told.blank);
    }
    rates.sort((a, b) => a - b);
    const middle = rates[ROUNDS >> 1];
    console.log(
      `table of ${ROWS} rows, scrolled: ${middle.toFixed(0)} frames a second, median of ${ROUNDS} (goal 30: ${middle >= 30 ? 'reached' : 'MISSED'}), longest frame ${longest.toFixed(0)} ms, frames without a row in sight at most ${blank}`,
    );
  } finally {
    await browser.close();
  }
}

/** Runs in the page: scrolls down and up again at each frame, and counts them. */
function scrolled(o: { seconds: number; speed: number }): Promise<{ rate: number; longest: number; blank: number }> {
  return new Promise((resolve) => {
    const table = document.querySelector('[data-testid=prints]') as HTMLElement;
    let scroller: HTMLElement = table;
    while (!/auto|scroll/.test(getComputedStyle(scroller).overflowY)) scroller = scroller.parentElement as HTMLElement;
    const start = performance.now();
    let last = start;
    let frames = 0;
    let longest = 0;
    let blank = 0;
    let step = o.speed;
    const frame = (now: number) => {
      frames++;
      longest = Math.max(longest, now - last);
      last = now;
      const box = scroller.getBoundingClientRect();
      const middle = document.elementFromPoint(box.left + box.width / 2, box.top + box.height / 2);
      if (!middle?.closest('tr[data-key]')) blank++;
      if (scroller.scrollTop + scroller.clientHeight >= scroller.scrollHeight - 1) step = -o.speed;
      else if (scroller.scrollTop <= 0) step = o.speed;
      scroller.scrollTop += step;
      if (now - start < o.seconds * 1000) requestAnimationFrame(frame);
      else resolve({ rate: (1000 * frames) / (now - start), longest, blank });
    };
    requestAnimationFrame(frame);
  });
}
