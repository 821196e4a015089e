import { readFileSync } from 'node:fs';
import { describe, expect, test } from 'vitest';
import { expiryColor, PALETTES, type Theme } from '../src/lib/ui/palette.ts';

/* What is read stands out from what it is read on, on either theme (WCAG 2.2, 1.4.3 and 1.4.11), whatever pages are looked at. */

const css = readFileSync(new URL('../src/app.css', import.meta.url), 'utf8');
/** Colors of a theme as the style sheet has them, by their names without dashes in front. */
function tokensOf(theme: Theme): Record<string, string> {
  const blocks = [...css.matchAll(/([^{}]*)\{([^{}]*)\}/g)].filter(([, selector]) =>
    theme === 'day' ? /:root\b/.test(selector) : selector.includes(`[data-theme='night']`),
  );
  return Object.fromEntries(
    blocks.flatMap(([, , body]) =>
      [...body.matchAll(/--([a-z-\d]+): (#[\da-f]{6});/g)].map(([, name, c]) => [name, c]),
    ),
  );
}

/** Relative luminance of a color, by WCAG's definition. */
function luminance(color: string): number {
  const [r, g, b] = [1, 3, 5].map((i) => {
    const v = Number.parseInt(color.slice(i, i + 2), 16) / 255;
    return v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4;
  });
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}
function contrast(a: string, b: string): number {
  const [high, low] = [luminance(a), luminance(b)].sort((x, y) => y - x);
  return (high + 0.05) / (low + 0.05);
}

/** Of words, and of marks that mean something. */
const [LEAST_OF_TEXT, LEAST_OF_MARKS] = [4.5, 3];
const WRITTEN = ['ink', 'soft', 'implied', 'realized', 'own', 'gain', 'loss', 'event'];

test('the measure of contrast is that of the standard: black on white 21, a middle gray at its edge', () => {
  expect(contrast('#000000', '#ffffff')).toBeCloseTo(21, 10);
  // The grays that are known as the last to pass and the first to fail on white.
  expect(contrast('#767676', '#ffffff')).toBeGreaterThan(4.5);
  expect(contrast('#777777', '#ffffff')).toBeLessThan(4.5);
});

describe.each(['day', 'night'] as const)('by %s', (theme) => {
  const tokens = tokensOf(theme);
  const palette = PALETTES[theme];

  test.each(WRITTEN)('words in %s can be read on the page, on raised columns and on hairlines', (name) => {
    for (const ground of ['paper', 'sheet', 'hair'])
      expect(contrast(tokens[name], tokens[ground]), ground).toBeGreaterThanOrEqual(
        ground === 'hair' && name !== 'ink' ? LEAST_OF_MARKS : LEAST_OF_TEXT,
      );
  });

  test('what stands on a filled button or note can be read', () => {
    for (const fill of ['primary', 'secondary', 'neutral', 'error'])
      expect(contrast(tokens[`color-${fill}-content`], tokens[`color-${fill}`]), fill).toBeGreaterThanOrEqual(
        LEAST_OF_TEXT,
      );
  });

  test('lines and marks stand out from the page: expiries near and far, what is held beside', () => {
    const expiries = [0.1, 1, 7, 14, 30, 60, 90, 180, 365, 1000].map((days) => expiryColor(days, palette));
    for (const color of [...expiries, ...palette.beside, palette.realized])
      for (const ground of [palette.paper, palette.sheet])
        expect(contrast(color, ground), `${color} on ${ground}`).toBeGreaterThanOrEqual(LEAST_OF_MARKS);
    const steps = expiries.map((color) => contrast(color, palette.paper));
    expect(steps[0]).toBe(Math.max(...steps));
  });

  test('charts and pages have the same colors', () => {
    const { ramp: _, beside: __, realized: ___, realizedText, ...others } = palette;
    expect(tokens).toMatchObject({ ...others, realized: realizedText });
  });
});
