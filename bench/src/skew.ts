import { chromium, type Page } from '@playwright/test';

const CHANGES = 40;
/** Played for so long, milliseconds, at 60 sessions a second: within the year. */
const PLAYED = 4000;

/** How fast Skew answers to another axis and another expiry, and how smoothly the year plays, on a running application (BASE_URL). */
export async function skewFigures(): Promise<void> {
  const base = process.env.BASE_URL ?? 'http://127.0.0.1:4173';
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', chromiumSandbox: false });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    // The loader names functions by a helper that the page does not have.
    await page.addInitScript('globalThis.__name = (f) => f');
    await page.goto(`${base}/skew/KELPA`);
    await page.locator('body[data-live]').waitFor();
    await page.locator('[data-ready=true]').first().waitFor();
    report(
      'another horizontal axis',
      await clicks(page, 'Horizontal axis', ['distance %', 'ln K/F', 'delta', 'strike']),
    );
    report('another expiry', await clicks(page, 'Expiries', ['16 May', '20 Jun', '18 Jul', '18 Apr']));
    await page.goto(`${base}/skew/VM50?skew=replay`);
    await page.getByRole('button', { name: 'play', exact: true }).waitFor();
    const frames = await page.evaluate(
      ([played]) =>
        new Promise<{ drawn: number; worst: number }>((resolve) => {
          let drawn = 0;
          let before = '';
          let last = performance.now();
          let worst = 0;
          const slider = document.querySelector('input[type=range]') as HTMLInputElement;
          slider.value = '0';
          slider.dispatchEvent(new Event('input', { bubbles: true }));
          const start = performance.now();
          requestAnimationFrame(function look(now) {
            const shape = document.querySelector('[data-testid=replay-smile]')?.getAttribute('d') ?? '';
            if (shape !== before) drawn++;
            before = shape;
            if (now > start + 200) worst = Math.max(worst, now - last);
            last = now;
            if (now < start + played) requestAnimationFrame(look);
            else resolve({ drawn: (1000 * drawn) / (now - start), worst });
          });
          const button = [...document.querySelectorAll('button')].find((b) => b.textContent?.trim() === '60 / s');
          button?.click();
          [...document.querySelectorAll('button')].find((b) => b.textContent?.trim() === 'play')?.click();
        }),
      [PLAYED],
    );
    console.log(
      `replay of a year at 60 sessions a second: ${frames.drawn.toFixed(0)} smiles a second drawn, longest frame ${frames.worst.toFixed(0)} ms (goal 30 a second: ${frames.drawn >= 30 ? 'reached' : 'MISSED'})`,
    );
  } finally {
    await browser.close();
  }
}

/** Times from a click on each of some buttons, in turn, until the chart has been drawn anew and painted. */
async function clicks(page: Page, group: string, names: string[]): Promise<number[]> {
  const times: number[] = [];
  for (let n = 0; n < CHANGES; n++) {
    const name = names[n % names.length];
    times.push(
      await page.evaluate(
        ([label, text]) =>
          new Promise<number>((resolve) => {
            const holder = document.querySelector(`[aria-label="${label}"]`) as Element;
            const button = [...holder.querySelectorAll('button')].find(
              (b) => b.textContent?.trim() === text || b.getAttribute('aria-label')?.startsWith(text),
            );
            const chart = document.querySelector('[data-ready]') as Element;
            const start = performance.now();
            const observer = new MutationObserver(() => {
              observer.disconnect();
              requestAnimationFrame(() => setTimeout(() => resolve(performance.now() - start)));
            });
            observer.observe(chart, { subtree: true, childList: true, attributes: true });
            button?.click();
          }),
        [group, name],
      ),
    );
  }
  return times.slice(4);
}

function report(what: string, times: number[]): void {
  const sorted = [...times].sort((a, b) => a - b);
  const median = sorted[sorted.length >> 1];
  const tail = sorted[Math.floor(0.95 * sorted.length)];
  console.log(
    `${what}: median ${median.toFixed(0)} ms, 95 % below ${tail.toFixed(0)} ms (goal 100 ms: ${median <= 100 ? 'reached' : 'MISSED'})`,
  );
}
