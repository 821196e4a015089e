import { smileVolatility } from '@umwelt/core/surface';
import type { AsOfContext } from '../api/as-of-context.ts';
import type { ExpiryOverview, ExpiryPicture, Overview } from '../api/picture.ts';
import type { Side } from '../api/quantity.ts';
import { borrowedSmileOf, fittedVolatility } from './expiry-smile.ts';

/** Which volatility theory uses. */
export interface VolatilityInForce {
  source: AsOfContext['volatilitySource'];
  /** The one for all expiries and strikes, where the source is such; null when it is another, or has none to give */
  level: number | null;
}

/** What each source is called. */
export const VOLATILITY_SOURCE_NAMES: Record<AsOfContext['volatilitySource'], string> = {
  smile: 'smile',
  own: "option's own",
  atm: 'at the money',
  borrowed: 'borrowed',
  index: 'model-free at 30 days',
  realized: 'realized',
  typed: 'typed',
};

/** The volatility in force over a picture. */
export function volatilityInForce(
  picture: Pick<Overview, 'index30'>,
  { volatilitySource: source, typedVolatility }: Pick<AsOfContext, 'volatilitySource' | 'typedVolatility'>,
): VolatilityInForce {
  switch (source) {
    case 'index':
      return { source, level: picture.index30 };
    case 'typed':
      return { source, level: typedVolatility ?? null };
    default:
      return { source, level: null };
  }
}

/** Sources that know listed options alone. */
const OF_LISTED: ReadonlySet<VolatilityInForce['source']> = new Set(['own', 'realized', 'borrowed']);

/** Volatility that theory uses for an option of an expiry, listed or not; null where the source has none. */
export function theoryVolatility(
  expiry: ExpiryPicture,
  { side, strike }: { side: Side; strike: number },
  inForce: VolatilityInForce,
): number | null {
  // What is not listed has no quote of its own, and of an expiry that is not listed nothing but the surface tells.
  const isListed = expiry.strikes.includes(strike);
  const isTold = inForce.source === 'own' ? isListed : expiry.strikes.length > 0;
  if (!isTold && OF_LISTED.has(inForce.source)) return fittedVolatility(expiry, strike);
  const own = () => expiry[side].midVolatility[expiry.strikes.indexOf(strike)] ?? null;
  return bySource(expiry, strike, inForce, own);
}

/** Volatility that theory uses for the call at the strike nearest to the forward, which is known without the quotes. */
export function theoryVolatilityAtMoney(expiry: ExpiryOverview, inForce: VolatilityInForce): number | null {
  const { strike, callVolatility } = expiry.atMoney;
  return bySource(expiry, strike, inForce, () => callVolatility);
}

function bySource(
  expiry: ExpiryOverview,
  strike: number,
  { source, level }: VolatilityInForce,
  own: () => number | null,
): number | null {
  switch (source) {
    case 'smile':
      return fittedVolatility(expiry, strike);
    case 'own':
      return own();
    case 'atm':
      return expiry.atm;
    case 'borrowed': {
      const smile = borrowedSmileOf(expiry);
      return smile ? smileVolatility(smile, Math.log(strike / expiry.forward)) : null;
    }
    case 'realized':
      return expiry.realized?.volatility ?? null;
    case 'index':
    case 'typed':
      return level;
  }
}
