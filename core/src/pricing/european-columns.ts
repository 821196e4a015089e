/**
 * European contracts in parallel columns of one length, one row a contract. Units as in `BlackScholesMertonInput`; an
 * option on a futures price has that price as `spot` and the rate as `dividendYield`.
 */
export interface EuropeanColumns {
  /** 1 for a call, 0 for a put */
  isCall: Uint8Array;
  spot: Float64Array;
  strike: Float64Array;
  timeToExpiry: Float64Array;
  rate: Float64Array;
  dividendYield: Float64Array;
  volatility: Float64Array;
}

/** Empty columns for `count` contracts. */
export function europeanColumns(count: number): EuropeanColumns {
  return {
    isCall: new Uint8Array(count),
    spot: new Float64Array(count),
    strike: new Float64Array(count),
    timeToExpiry: new Float64Array(count),
    rate: new Float64Array(count),
    dividendYield: new Float64Array(count),
    volatility: new Float64Array(count),
  };
}

/** @throws RangeError unless every column, outputs included, has the same length */
export function requireOneLength(columns: object): number {
  const lengths = Object.entries(columns as Record<string, { length: number }>).map(([name, c]) => [name, c.length]);
  const first = lengths[0]?.[1] as number;
  const odd = lengths.find(([, length]) => length !== first);
  if (odd) throw new RangeError(`columns must have one length: ${odd[0]} has ${odd[1]} rows, not ${first}`);
  return first;
}

/** Whether row i is inside the ranges of `BlackScholesMertonInput`. */
export function isEuropeanRowInRange(c: EuropeanColumns, i: number): boolean {
  return (
    c.spot[i] > 0 &&
    c.spot[i] < Infinity &&
    c.strike[i] > 0 &&
    c.strike[i] < Infinity &&
    c.timeToExpiry[i] >= 0 &&
    c.timeToExpiry[i] < Infinity &&
    Math.abs(c.rate[i]) < Infinity &&
    Math.abs(c.dividendYield[i]) < Infinity &&
    c.volatility[i] >= 0 &&
    c.volatility[i] < Infinity
  );
}

/** Writes one contract to row i; its side is left alone. */
export function setEuropeanRow(
  c: EuropeanColumns,
  i: number,
  o: Record<'spot' | 'strike' | 'timeToExpiry' | 'rate' | 'dividendYield' | 'volatility', number>,
): void {
  c.spot[i] = o.spot;
  c.strike[i] = o.strike;
  c.timeToExpiry[i] = o.timeToExpiry;
  c.rate[i] = o.rate;
  c.dividendYield[i] = o.dividendYield;
  c.volatility[i] = o.volatility;
}
