import type { Picture } from '../api/picture.ts';
import type { TradedLegText } from '../api/traded.ts';
import type { ListedValue } from './listed-values.ts';
import { spreadValue } from './spread-theory.ts';

/**
 * How far a trade stood from the fit, decimal of volatility: its price from the middle of the quote that it met, and that middle from
 * theory as the middle of the quotes stands now, by the vega of all legs. The price of the underlying has moved since; how its options
 * stand to the fit is taken to have stayed.
 * @param values of the legs by theory, in their order
 * @returns null where a leg has no theory or no quote now, or no vega
 */
export function tradeDistance(
  picture: Picture,
  trade: { legs: readonly TradedLegText[]; price: number; bid: number; ask: number },
  values: readonly (ListedValue | undefined)[],
): number | null {
  const theory = spreadValue(
    trade.legs,
    values.map((value) => value?.price ?? null),
  );
  const mids = trade.legs.map(({ expiry: date, strike, side }) => {
    const expiry = picture.expiries.find((e) => e.date === date);
    const at = expiry?.strikes.indexOf(strike) ?? -1;
    const [bid, ask] = [expiry?.[side].bid[at] ?? null, expiry?.[side].ask[at] ?? null];
    return bid === null || ask === null ? null : 0.5 * (bid + ask);
  });
  const middle = spreadValue(trade.legs, mids);
  // Vega is told a point.
  const vega = trade.legs.reduce((sum, { ratio }, i) => sum + Math.abs(ratio) * (values[i]?.vega ?? NaN), 0);
  if (theory === null || middle === null || !(vega > 0)) return null;
  const met = 0.5 * (trade.bid + trade.ask);
  return (trade.price - met + (middle - theory)) / vega / 100;
}
