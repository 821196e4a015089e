import type { ChainRow } from '../../api/chain-row.ts';
import type { Side } from '../../api/quantity.ts';

/** Both options of a strike. */
export interface StrikeRow {
  strike: number;
  call: ChainRow;
  put: ChainRow;
}

/** Quotes of both sides by strike, in the order in which strikes come; a strike with one side alone is left out. */
export function strikeRows(rows: readonly ChainRow[]): StrikeRow[] {
  const byStrike = new Map<number, Partial<Record<Side, ChainRow>>>();
  for (const row of rows) byStrike.set(row.strike, { ...byStrike.get(row.strike), [row.side]: row });
  return [...byStrike].flatMap(([strike, { call, put }]) => (call && put ? [{ strike, call, put }] : []));
}

/** A bid stands before its offer, on whichever side of the strike. */
const PAIRS: readonly (readonly [string, string])[] = [
  ['bid', 'ask'],
  ['bidVolatility', 'askVolatility'],
];

/**
 * Columns of the calls, which end at the strike, from those of the puts, which begin there: the other way round, but that pairs
 * of bid and offer stay as they are read.
 */
export function mirrored(ids: readonly string[]): string[] {
  const turned = [...ids].reverse();
  for (const [first, second] of PAIRS) {
    const at = turned.indexOf(second);
    if (at >= 0 && turned[at + 1] === first) [turned[at], turned[at + 1]] = [first, second];
  }
  return turned;
}
