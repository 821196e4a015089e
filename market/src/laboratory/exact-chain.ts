import { black76Price, impliedVolatility, type Option, optionPrice, type Side } from '@umwelt/core/pricing';
import { dividendsBefore, laboratoryForward, type LaboratoryMarket } from './laboratory-market.ts';

/** True values of one expiry of a laboratory market, by ascending strike. */
export interface ExactExpiry {
  days: number;
  timeToExpiry: number;
  forward: number;
  discountFactor: number;
  strikes: Float64Array;
  /** What an option is worth, with early exercise where it is allowed */
  value: Record<Side, Float64Array>;
  /** Without early exercise */
  european: Record<Side, Float64Array>;
  /** Black volatility of the European values on the forward */
  volatility: Float64Array;
}

/** Steps that strikes are listed at. */
const STRIKE_STEPS = [0.01, 0.02, 0.05, 0.1, 0.2, 0.25, 0.5, 1, 2, 2.5, 5, 10, 20, 25, 50];

/** True values of every listed option of a market; the same for every seed. */
export function exactChain(market: LaboratoryMarket): ExactExpiry[] {
  return market.days.map((days) => exactExpiry(market, days));
}

function exactExpiry(market: LaboratoryMarket, days: number): ExactExpiry {
  const timeToExpiry = days / 365;
  const forward = laboratoryForward(market, timeToExpiry);
  const discountFactor = Math.exp(-market.rate * timeToExpiry);
  const strikes = listedStrikes(market, forward, timeToExpiry);
  const priced = (exercise: Option['exercise'], side: Side) =>
    strikes.map((strike) => valueOf(market, { exercise, side, strike, timeToExpiry, forward }));
  const european = { call: priced('european', 'call'), put: priced('european', 'put') };
  const value =
    market.exercise === 'european' ? european : { call: priced('american', 'call'), put: priced('american', 'put') };
  const volatility = strikes.map((strike, i) => {
    const side = strike >= forward ? 'call' : 'put';
    const price = european[side][i];
    const implied = impliedVolatility({ side, forward, strike, timeToExpiry, discountFactor, price });
    return implied.ok ? implied.volatility : NaN;
  });
  return { days, timeToExpiry, forward, discountFactor, strikes, value, european, volatility };
}

function listedStrikes({ law, strikes }: LaboratoryMarket, forward: number, timeToExpiry: number): Float64Array {
  const deviation = law.volatility(0, timeToExpiry) * Math.sqrt(timeToExpiry);
  // A little more than the deviations, so that even a few days' strikes spread.
  const [low, high] = [strikes.below, strikes.above].map((n) => Math.min(0.6, n * deviation + (n > 1 ? 0.02 : 0)));
  const [from, to] = [forward * Math.exp(-low), forward * Math.exp(high)];
  const step = STRIKE_STEPS.find((s) => (to - from) / s <= strikes.most) ?? 100;
  const first = Math.ceil(from / step);
  return Float64Array.from({ length: Math.floor(to / step) - first + 1 }, (_, i) => (first + i) * step);
}

function valueOf(
  market: LaboratoryMarket,
  o: { exercise: Option['exercise']; side: Side; strike: number; timeToExpiry: number; forward: number },
): number {
  const { law, rate, model = 'spot' } = market;
  const { exercise, side, strike, timeToExpiry, forward } = o;
  if (market.isByLaw && exercise === 'american') {
    if (!law.american) throw new RangeError(`${market.name}: its law has no American values`);
    return law.american({ side, strike, timeToExpiry, rate, forward });
  }
  const volatility = law.volatility(Math.log(strike / forward), timeToExpiry);
  const dividends = dividendsBefore(market, timeToExpiry).map(({ time, amount }) => ({ time, amount }));
  if (exercise === 'european' && dividends.length === 0) {
    const discountFactor = Math.exp(-rate * timeToExpiry);
    return black76Price({ side, forward, strike, timeToExpiry, volatility, discountFactor });
  }
  const common = { side, exercise, strike, timeToExpiry, rate, volatility, underlying: market.spot };
  return optionPrice(
    model === 'futures' ? { ...common, model } : { ...common, model, dividendYield: market.dividendYield, dividends },
    dividends.length > 0 ? 'default' : 'fine',
  );
}
