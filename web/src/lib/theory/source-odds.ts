import {
  constantOdds,
  type HistoryPaths,
  historyOdds,
  type Odds,
  smileOdds,
  type TouchLevels,
} from '@umwelt/core/probability';
import { smileVolatility } from '@umwelt/core/surface';
import type { ExpiryPicture } from '../api/picture.ts';
import { ODDS_SOURCES, type OddsSource } from '../api/range.ts';
import { borrowedSmileOf, expirySmile } from './expiry-smile.ts';
import { expiryLaw } from './expiry-law.ts';

/** What odds of an expiry rest on beside its own surface. */
export interface OddsInput {
  expiry: ExpiryPicture;
  /** Model-free, at 30 days */
  index30: number | null;
  /** Expected until the expiry, and by which model; null where none could be fitted */
  forecast: { volatility: number; model: string } | null;
  /** Drawn from the underlying's own past, already recentred to forward and drift; null of a short one */
  history: HistoryPaths | null;
  typed: number | null;
  /** Growth of the expected price beyond the forward, per year */
  drift: number;
}

/** What one source says of an expiry. */
export interface SourceOdds {
  source: OddsSource;
  /** Undefined where it has nothing to say */
  odds?: Odds;
  /** Annual volatility that it has at a price; null of a law without one, or where it is not known */
  volatilityAt(price: number): number | null;
  /** Why it says nothing, or what stands in */
  reason?: string;
}

/** Every source that a probability may come from, in the order in which they are shown. */
export function sourcesOf(input: OddsInput): SourceOdds[] {
  return ODDS_SOURCES.map((source) => sourceOf(source, input));
}

/** One source. */
export function sourceOf(source: OddsSource, input: OddsInput): SourceOdds {
  const { expiry, drift } = input;
  const spot = expiry.underlyingPrice;
  const none = (reason: string): SourceOdds => ({ source, reason, volatilityAt: () => null });
  const constant = (volatility: number | null | undefined, missing: string, note?: string): SourceOdds =>
    volatility === null || volatility === undefined || !(volatility > 0)
      ? none(missing)
      : {
          source,
          odds: constantOdds(constantLaw(input, volatility)),
          volatilityAt: () => volatility,
          ...(note ? { reason: note } : {}),
        };
  switch (source) {
    case 'smile': {
      const smile = expirySmile(expiry);
      const law = expiryLaw(expiry, { drift });
      if (!smile || !law) return none('no smile was fitted');
      return {
        source,
        odds: smileOdds(law, spot),
        volatilityAt: (price) => smileVolatility(law.smile, Math.log(price / expiry.forward)),
        ...(expiry.smile?.model === 'flat' ? { reason: 'a level without shape: too few quotes for more' } : {}),
      };
    }
    case 'borrowed': {
      const smile = borrowedSmileOf(expiry);
      const law = smile && expiryLaw(expiry, { smile, drift });
      if (!law) return none('no smile is borrowed');
      return {
        source,
        odds: smileOdds(law, spot),
        volatilityAt: (price) => smileVolatility(law.smile, Math.log(price / expiry.forward)),
      };
    }
    case 'own':
      return { source, odds: ownOdds(input), volatilityAt: (price) => ownVolatility(expiry, price) };
    case 'atm':
      return constant(expiry.atm, 'nothing is known at the money');
    case 'index':
      return constant(input.index30, 'no expiries around 30 days');
    case 'realized':
      return constant(expiry.realized?.volatility, 'no bars of as many sessions');
    case 'forecast':
      return constant(
        input.forecast?.volatility,
        'too short a history to fit a forecast',
        input.forecast && input.forecast.model !== 'garch'
          ? 'exponentially weighted: GARCH could not be fitted'
          : undefined,
      );
    case 'typed':
      return constant(input.typed, 'no volatility is typed');
    case 'history':
      if (!input.history) return none('too short a history to draw from');
      return { source, odds: historyOdds(input.history, spot), volatilityAt: () => null };
  }
}

function constantLaw({ expiry, drift }: OddsInput, volatility: number) {
  const { underlyingPrice: spot, forward, years: timeToExpiry } = expiry;
  return { spot, timeToExpiry, volatility, drift: Math.log(forward / spot) / timeToExpiry + drift };
}

/** Each price by the volatility of the option struck there: no law of its own, since every strike has another. */
function ownOdds(input: OddsInput): Odds {
  const at = (price: number) => {
    const volatility = ownVolatility(input.expiry, price);
    return volatility === null ? undefined : constantOdds(constantLaw(input, volatility));
  };
  return {
    below: (price) => at(price)?.below(price) ?? NaN,
    touch: (levels) => {
      const { lower, upper } = levels;
      // Either of two strikes has its own.
      if (lower !== undefined && upper !== undefined) return NaN;
      return at(lower ?? upper ?? NaN)?.touch(levels) ?? NaN;
    },
    quantile: () => NaN,
    strikeAtDelta: () => NaN,
  };
}

/** Implied volatility at mid of the out-of-the-money option struck at a price, between listed strikes on a line; null beyond good quotes. */
function ownVolatility(expiry: ExpiryPicture, price: number): number | null {
  const { strikes, forward } = expiry;
  const side = expiry[price < forward ? 'put' : 'call'];
  const good = strikes.flatMap((strike, i) => {
    const volatility = side.midVolatility[i];
    return volatility !== null && side.verdict[i] === null ? [{ strike, volatility }] : [];
  });
  const above = good.findIndex((q) => q.strike >= price);
  if (above === -1) return null;
  const high = good[above];
  if (high.strike === price) return high.volatility;
  if (above === 0) return null;
  const low = good[above - 1];
  const share = (price - low.strike) / (high.strike - low.strike);
  return low.volatility + share * (high.volatility - low.volatility);
}

/** Probability that a source gives to a question; NaN where it has no answer. */
export function askOdds(
  odds: Odds,
  kind: 'above' | 'below' | 'between' | 'touch',
  levels: readonly number[],
  spot: number,
): number {
  const [first, second] = levels;
  switch (kind) {
    case 'below':
      return odds.below(first);
    case 'above':
      return 1 - odds.below(first);
    case 'between':
      return odds.below(Math.max(first, second)) - odds.below(Math.min(first, second));
    case 'touch':
      return odds.touch(touchLevels(levels, spot));
  }
}

/** Of two levels on one side of the price the nearer is touched first: the other asks for nothing more. */
function touchLevels(levels: readonly number[], spot: number): TouchLevels {
  const below = levels.filter((level) => level < spot);
  const above = levels.filter((level) => level >= spot);
  return {
    ...(below.length > 0 ? { lower: Math.max(...below) } : {}),
    ...(above.length > 0 ? { upper: Math.min(...above) } : {}),
  };
}
