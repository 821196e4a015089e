import { median } from '../math/index.ts';
import type { SmilePoint } from './smile-points.ts';

/** Half width in volatility at which a market is worth half of a narrow one, as a share of the volatility itself. */
const HALF_WIDTH_SHARE = 0.05;
/** Quotes beyond which more of them add little. */
const ENOUGH_QUOTES = 5;
/** Root mean squared error at which a fit is worth half, as a share of the volatility. */
const ERROR_SHARE = 0.03;

/**
 * How far a fitted smile can be relied on, 0 to 100: the product of the share of quotes it passes inside the market, and
 * of three falling factors for width, count and error. Common practice asks for such a figure; this form is ours.
 * @param o.insideMarket share of the fitted quotes between whose bid and ask the smile passes
 * @param o.rmse in volatility
 */
export function smileQuality(points: SmilePoint[], o: { insideMarket: number; rmse: number }): number {
  if (points.length === 0) return 0;
  const width = median(points.map((p) => p.halfWidth / p.volatility));
  const level = points.reduce((sum, p) => sum + p.volatility, 0) / points.length;
  const tight = 1 / (1 + width / HALF_WIDTH_SHARE);
  const many = points.length / (points.length + ENOUGH_QUOTES);
  const exact = 1 / (1 + (o.rmse / level / ERROR_SHARE) ** 2);
  // Each factor's root: a market middling in all three is a middling one, not a bad one.
  return 100 * o.insideMarket * Math.cbrt(tight * many * exact);
}
