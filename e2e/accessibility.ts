/** What the rules of accessibility find on a page. */
import { AxeBuilder } from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';

const RULES = ['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'];

/** What breaks the rules on the page as it stands: rule, element, reason. Charts' own elements are left to their tables. */
async function violations(page: Page): Promise<string[]> {
  const { violations: found } = await new AxeBuilder({ page })
    .options({
      runOnly: { type: 'tag', values: RULES },
      // Every pair of the palette's colors is held to its contrast by a test of its own, and the sweep reads it off drawn pages.
      rules: { 'color-contrast': { enabled: process.env.SOAK !== undefined } },
      resultTypes: ['violations'],
    })
    // The page has no frames: one pass in it does, and needs half the time of a pass that looks for them.
    .setLegacyMode(true)
    .exclude('.js-plotly-plot')
    .analyze();
  return found.map(
    (each) => `${each.id}: ${each.nodes[0]?.html.slice(0, 120)} ${each.nodes[0]?.any[0]?.message ?? ''}`,
  );
}

/**
 * Nothing breaks the rules, once what is still being computed (dimmed until then) is there. By day: the other theme paints the same
 * elements in other colors, which are held against each other by a test of the palette.
 */
export async function expectAccessible(page: Page): Promise<void> {
  await expect(async () => expect(await violations(page)).toEqual([])).toPass();
}
