/** What the rules of accessibility find on a page. */
import { AxeBuilder } from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';

const RULES = ['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'];

/** What breaks the rules on the page as it stands: rule, element, reason. Charts' own elements are left to their tables. */
async function violations(page: Page, isRepainted: boolean): Promise<string[]> {
  const { violations: found } = await new AxeBuilder({ page })
    .options({
      // Another theme paints the same elements: what may be wrong of it is contrast.
      runOnly: isRepainted ? { type: 'rule', values: ['color-contrast'] } : { type: 'tag', values: RULES },
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
 * Nothing breaks the rules, once what is still being computed (dimmed until then) is there.
 * @param theme of the page; all rules are held against it by day, those of its colors by night
 */
export async function expectAccessible(page: Page, theme: 'day' | 'night' = 'day'): Promise<void> {
  await expect(async () => expect(await violations(page, theme === 'night')).toEqual([])).toPass({ timeout: 30_000 });
}
