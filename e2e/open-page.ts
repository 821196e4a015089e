import type { Page } from '@playwright/test';

/** Opens a path and waits until the page answers to clicks and keys. */
export async function openPage(page: Page, path: string): Promise<void> {
  await page.goto(path);
  await page.locator('body[data-live]').waitFor();
}
