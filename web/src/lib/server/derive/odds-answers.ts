import { strikeForProbability } from '@umwelt/core/probability';
import { finiteOrNull } from '../../api/finite-or-null.ts';
import type { ExpiryPicture } from '../../api/picture.ts';
import type { Side } from '../../api/quantity.ts';
import type { OddsChoice, OddsStrike, SourceOddsRow, StrikesChoice, StrikesResponse } from '../../api/range.ts';
import {
  askOdds,
  listedAround,
  listedValues,
  type OddsInput,
  ON_SMILE,
  sourceOf,
  sourcesOf,
  type VolatilityInForce,
} from '../../theory/index.ts';

/** What every source answers to a question about an expiry. */
export function oddsRows(input: OddsInput, { kind, level }: Pick<OddsChoice, 'kind' | 'level'>): SourceOddsRow[] {
  return sourcesOf(input).map(({ source, odds, volatilityAt, reason }): SourceOddsRow => {
    const value = odds ? askOdds(odds, kind, level, input.expiry.underlyingPrice) : NaN;
    if (!odds || Number.isNaN(value))
      return { source, probability: null, volatility: null, reason: reason ?? noAnswer(source, level) };
    const probability = Math.min(1, Math.max(0, value));
    const volatilities = level.map(volatilityAt);
    const isOne = volatilities.every((v) => v === volatilities[0]);
    return {
      source,
      probability,
      // Two levels have two where each strike has its own.
      volatility: isOne ? volatilities[0] : null,
      ...(odds.errorOf ? { standardError: odds.errorOf(probability) } : {}),
      ...(reason ? { reason } : {}),
    };
  });
}

function noAnswer(source: string, level: readonly number[]): string {
  if (source !== 'own') return 'beyond what it reaches';
  return level.length > 1 ? 'each strike has its own volatility' : 'no good quote on either side of the level';
}

/** Strikes of put and call for a probability, with what they cost. */
export function oddsStrikes(input: OddsInput, choice: StrikesChoice): StrikesResponse {
  const { odds, volatilityAt } = sourceOf(choice.source, input);
  const { expiry } = input;
  const strikeOf = (side: Side): OddsStrike | null => {
    if (!odds) return null;
    const spot = expiry.underlyingPrice;
    const strike = strikeForProbability(odds, { side, goal: choice.kind, probability: choice.probability, spot });
    if (!(strike > 0)) return null;
    const [listedBelow, listedAbove] = listedAround(expiry.strikes, strike);
    const volatility = volatilityAt(strike);
    // A law without a volatility is priced on the smile.
    const inForce: VolatilityInForce =
      choice.source === 'smile' || volatility === null ? ON_SMILE : { source: 'typed', level: volatility };
    return {
      ...{ strike, listedBelow, listedAbove },
      premium: theoryAt(expiry, side, strike, inForce),
      premiumBelow: theoryAt(expiry, side, listedBelow, inForce),
      premiumAbove: theoryAt(expiry, side, listedAbove, inForce),
    };
  };
  return { put: strikeOf('put'), call: strikeOf('call') };
}

function theoryAt(expiry: ExpiryPicture, side: Side, strike: number | null, inForce: VolatilityInForce): number | null {
  if (strike === null) return null;
  return finiteOrNull(listedValues(expiry, [{ side, strike }], inForce)[0]?.price);
}
