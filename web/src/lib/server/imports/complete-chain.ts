import type { GuessedTerms, TermsEvidence } from '@umwelt/market/terms';
import { calendarYears } from '@umwelt/core/time';
import type { Slice } from '@umwelt/core/surface';
import type { ImportTerms } from '../../api/chain-import.ts';
import { compute } from '../derive/pool.ts';
import type { Database } from '../database/connect.ts';
import * as staging from '../repositories/chain-staging.ts';
import type { StoredUnderlying } from '../repositories/underlyings.ts';
import { carryAt } from '../services/carry-at.ts';
import type { Carry } from '../derive/derive-stored.ts';

type Sql = Parameters<typeof staging.createStaging>[0];

/** The core's view of a gathered slice, with the price that it refers to. */
export function gatheredCoreSlice(slice: staging.GatheredSlice): Slice & { underlyingPrice: number } {
  const column = (name: string) => Float64Array.from(slice.columns[name]);
  return {
    timeToExpiry: calendarYears(slice.instant.getTime(), slice.expiry.getTime()),
    strikes: Float64Array.from(slice.strikes),
    callBid: column('call_bid'),
    callAsk: column('call_ask'),
    putBid: column('put_bid'),
    putAsk: column('put_ask'),
    underlyingPrice: slice.underlyingPrice,
  };
}

/** Terms that a new underlying's latest quotes and the file betray. */
export async function guessStagedTerms(
  sql: Sql,
  o: { symbol: string; facts: TermsEvidence['facts']; root?: string; signal?: AbortSignal },
): Promise<GuessedTerms> {
  const slices = (await staging.gatheredAt(sql, o.symbol)).map(gatheredCoreSlice);
  const { symbol, facts, root, signal } = o;
  return compute('terms', { symbol, facts, root, slices }, { lane: 'import', signal });
}

/** What is known of a new underlying besides its quotes, as far as its terms lead to what is stored. */
export async function carryOfTerms(
  database: Database,
  o: { terms: ImportTerms; foreignCurrency: string | null; zone: string; instant: Date; stored?: StoredUnderlying },
): Promise<Carry> {
  const { currency, exercise, model } = o.terms;
  const underlying = o.stored ?? {
    id: -1,
    zone: o.zone,
    currency,
    foreignCurrency: o.foreignCurrency,
    exercise,
    model,
  };
  return carryAt(database, underlying as StoredUnderlying, o.instant);
}

/**
 * Puts into gathered slices what the file leaves out: prices of underlyings, which parity implies, and prices of options that
 * are quoted in volatility.
 * @param o.termsOf terms in force of a symbol
 * @returns symbols whose price nothing implies, with the first price implied of the others
 */
export async function completeChain(
  sql: Sql,
  database: Database,
  o: {
    termsOf: (symbol: string) => {
      terms: ImportTerms;
      foreignCurrency: string | null;
      zone: string;
      stored?: StoredUnderlying;
    };
    volatilityWidth: number;
    signal?: AbortSignal;
  },
): Promise<{ symbol: string; price: number | null }[]> {
  const implied = new Map<string, number | null>();
  for (const { symbol, instant, lacksPrice, isMade } of await staging.incompleteInstants(sql)) {
    o.signal?.throwIfAborted();
    const slices = await staging.gatheredAt(sql, symbol, instant);
    const known = o.termsOf(symbol);
    const lane = { lane: 'import', signal: o.signal };
    if (lacksPrice) {
      const isFuture = known.terms.model === 'futures';
      const prices = await compute('impliedPrices', { slices: slices.map(gatheredCoreSlice), isFuture }, lane);
      if (!implied.has(symbol) || prices === undefined) implied.set(symbol, prices?.[0] ?? null);
      if (prices === undefined) continue;
      for (const [i, slice] of slices.entries()) {
        if (!Number.isNaN(slice.underlyingPrice)) continue;
        slice.underlyingPrice = prices[i];
        await staging.setImpliedPrice(sql, { symbol, instant, expiry: slice.expiry, price: prices[i] });
      }
    }
    if (!isMade) continue;
    const carry = await carryOfTerms(database, { ...known, instant });
    const made = await compute('madeQuotes', { slices, carry, width: o.volatilityWidth }, lane);
    for (const [i, slice] of slices.entries()) {
      if (made[i]) await staging.setMadeQuotes(sql, { symbol, instant, expiry: slice.expiry, ...made[i] });
    }
  }
  return [...implied].map(([symbol, price]) => ({ symbol, price }));
}
