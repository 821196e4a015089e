import { black76Price, type Side } from '@umwelt/core/pricing';
import { deriveSurface, type Slice } from '@umwelt/core/surface';

/** The work of deriving one surface from quotes on a made-up smile: judge, imply, fit, measures. */
export function surfaceTiming(): () => number {
  const slices: Slice[] = Array.from({ length: 12 }, (_, e) => {
    const timeToExpiry = (7 + 30 * e) / 365;
    const strikes = Float64Array.from({ length: 60 }, (_v, k) => 60 + (4 * k) / 3);
    const quote = (side: Side, factor: number) =>
      strikes.map((strike) => {
        const m = strike / 100 - 1;
        const volatility = 0.2 + 0.1 * m * m - 0.05 * m;
        const discountFactor = Math.exp(-0.03 * timeToExpiry);
        const price = black76Price({ side, forward: 100, strike, timeToExpiry, volatility, discountFactor });
        return Math.max(0, Math.round(price * factor * 100) / 100);
      });
    return {
      timeToExpiry,
      strikes,
      callBid: quote('call', 0.985),
      callAsk: quote('call', 1.015),
      putBid: quote('put', 0.985),
      putAsk: quote('put', 1.015),
    };
  });
  return () => deriveSurface({ slices, spot: 100 }).atm30;
}
