import { type Exposures, HEDGED_GREEKS, type HedgedGreek, neutralize } from '@umwelt/core/hedge';
import { type HedgeAnswer, type HedgeRequest, UNDERLYING_NAME, usesUnderlying } from '../api/structure.ts';

type Given = HedgeRequest['position'];
export type HedgeResult = { ok: true; answer: HedgeAnswer } | { ok: false; reason: 'inconsistent' | 'underdetermined' };

const exposuresOf = (given: Given): Exposures =>
  Object.fromEntries(HEDGED_GREEKS.map((name) => [name, given[name] ?? 0])) as Exposures;

/** Trades that bring chosen sums to nothing, the underlying last, with what is left after each. */
export function solveHedge(asked: HedgeRequest): HedgeResult {
  const { position, neutralize: targets, wholeContracts } = asked;
  // It moves with the price alone, and trading it costs nothing that is known: an option is not taken for what it can do.
  const own = { name: UNDERLYING_NAME, ...exposuresOf({ delta: 1 }) };
  const isPriced = asked.instruments.length > 0 && asked.instruments.every((i) => i.cost !== undefined);
  const instruments: (Given & { name: string; cost?: number })[] = [
    ...asked.instruments,
    ...(usesUnderlying(asked) ? [{ ...own, cost: isPriced ? 0 : undefined }] : []),
  ];
  const found = neutralize({
    ...{ position: exposuresOf(position), targets, isWhole: wholeContracts },
    instruments: instruments.map((i) => ({ exposures: exposuresOf(i), cost: i.cost })),
  });
  if (!found.ok) return found;
  const trades = instruments.map(({ name }, i) => ({ name, quantity: found.quantities[i] }));
  const sums: { -readonly [Name in HedgedGreek]?: number } = { ...position };
  const sizes = exposuresOf(position) as Record<HedgedGreek, number>;
  const steps: HedgeAnswer['steps'] = [{ after: 'start', ...sums }];
  for (const [i, { name, quantity }] of trades.entries()) {
    for (const greek of quantity === 0 ? [] : HEDGED_GREEKS) {
      const [sum, per] = [sums[greek], instruments[i][greek]];
      // Nothing is known of a sum after a trade in what is not known of the instrument.
      if (sum === undefined || per === undefined) {
        sums[greek] = undefined;
        continue;
      }
      const moved = sum + quantity * per;
      sizes[greek] = Math.max(Math.abs(sizes[greek]), Math.abs(quantity * per));
      // What the sums cannot tell from nothing is nothing.
      sums[greek] = Math.abs(moved) <= ROUNDING * sizes[greek] ? 0 : moved;
    }
    steps.push({ after: name, ...sums });
  }
  return { ok: true, answer: { trades, steps } };
}

/** Share of the largest part of a sum that its rounding may leave. */
const ROUNDING = 1e-13;
