import { type BrowserContext, type Page, test as base } from '@playwright/test';
import { Application, databaseFromTemplate } from './running-application.ts';

/*
 * Each of the runner's workers has an application of its own, on a database of its own: what a spec changes those beside it do not
 * see. It has one window as well, whose page goes from test to test: what it has loaded and compiled stays, all else is forgotten.
 */

export { expect } from '@playwright/test';

const VIEWPORT = { width: 1280, height: 800 };

interface OfWorker {
  application: Application;
  window: BrowserContext;
}

/** A test of an application, in a browser's context of its own. */
export const testAlone = base.extend<object, Pick<OfWorker, 'application'>>({
  application: [
    // eslint-disable-next-line no-empty-pattern -- Playwright wants the fixtures it depends on as a pattern
    async ({}, use, info) => {
      const name = `${info.project.name}_${info.parallelIndex}`;
      const application = await Application.start(name, { database: databaseFromTemplate(name), workers: 1 });
      await use(application);
      await application.stop();
    },
    { scope: 'worker', timeout: 0 },
  ],
  baseURL: async ({ application }, use) => {
    await use(application.address);
  },
});

/** A test of an application, on the worker's one page. */
export const test = testAlone.extend<object, Pick<OfWorker, 'window'>>({
  window: [
    async ({ browser, application }, use) => {
      const window = await browser.newContext({
        baseURL: application.address,
        colorScheme: 'light',
        viewport: VIEWPORT,
      });
      await use(window);
      await window.close();
    },
    { scope: 'worker' },
  ],
  context: async ({ window }, use) => {
    await use(window);
    await window.clearCookies();
    await window.clearPermissions();
  },
  page: async ({ context }, use) => {
    const page = context.pages()[0] ?? (await context.newPage());
    await use(page);
    for (const other of context.pages()) if (other !== page) await other.close();
    if (!page.isClosed()) await forget(page);
  },
});

/** Leaves nothing of a test but what the browser keeps of files. */
async function forget(page: Page): Promise<void> {
  page.removeAllListeners();
  await page.unrouteAll();
  // The page keeps its state as it is left: what has nothing to keep stands there when that is cleared.
  await page.goto('/api/v1/health');
  await page.evaluate(() => [localStorage, sessionStorage].forEach((storage) => storage.clear()));
  await page.emulateMedia({ colorScheme: 'light', reducedMotion: null });
  await page.setViewportSize(VIEWPORT);
  await page.mouse.move(-10, -10);
}
