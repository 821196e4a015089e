import { readFileSync } from 'node:fs';
import { asOfContext, type AsOfContext } from '../src/lib/api/as-of-context.ts';
import type { ExpiryPicture, Picture } from '../src/lib/api/picture.ts';
import { volatilityInForce } from '../src/lib/theory/index.ts';
import { prepared } from './prepared.ts';

/** An index, a fund, shares with and without dividends ahead, a mini and a delivery future, a currency. */
export const SYMBOLS = ['VM50', 'VFUND', 'KELPA', 'PELAG', 'MERRO', 'VMQ', 'RYE', 'TERN'] as const;
const ALL = process.env.SOAK !== undefined;

/** An underlying as views see it today: one of the demo, or the plain Heston chain, imported (FJRD). */
export function storedPicture(symbol: (typeof SYMBOLS)[number] | 'FJRD'): Picture {
  return JSON.parse(readFileSync(`${prepared('TEST_PICTURES')}/${symbol}.json`, 'utf8')) as Picture;
}

export const contextOf = (volatilitySource: AsOfContext['volatilitySource'], typedVolatility?: number) =>
  asOfContext.parse({ volatilitySource, typedVolatility });

export const inForceOf = (
  picture: Picture,
  volatilitySource: AsOfContext['volatilitySource'],
  typedVolatility?: number,
) => volatilityInForce(picture, { volatilitySource, typedVolatility });

/** Lowest, nearest to the forward, highest; all of them in the long run. */
export function strikesOf({ strikes, forward }: Pick<ExpiryPicture, 'strikes' | 'forward'>): number[] {
  if (ALL) return strikes;
  const at = strikes.findIndex((k) => k >= forward);
  return [...new Set([strikes[0], strikes[Math.max(at, 0)], strikes[strikes.length - 1]])];
}
