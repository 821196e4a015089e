import type { Page } from '@playwright/test';

/* Figures of Structure as they stand in its panel. */

export const figure = (page: Page, id: string) =>
  page.getByTestId('structure-figures').locator(`[data-figure="structure~${id}"]`);
export const number = (text: string | null) =>
  Number.parseFloat((text ?? '').replace(/[\s\u202f]/g, '').replace('−', '-'));
export const shown = async (page: Page, id: string) => number(await figure(page, id).textContent());
