import { type Exposures, HEDGED_GREEKS, neutralize } from '@umwelt/core/hedge';
import { type HedgeAnswer, type HedgeRequest, UNDERLYING_NAME, usesUnderlying } from '../api/structure.ts';

type Given = HedgeRequest['position'];
export type HedgeResult = { ok: true; answer: HedgeAnswer } | { ok: false; reason: 'inconsistent' | 'underdetermined' };

const exposuresOf = (given: Given): Exposures =>
  Object.fromEntries(HEDGED_GREEKS.map((name) => [name, given[name] ?? 0])) as Exposures;

/** Trades that bring chosen sums to nothing, the underlying last, with what is left after each. */
export function solveHedge(asked: HedgeRequest): HedgeResult {
  const { position, neutralize: targets, wholeContracts } = asked;
  // It moves with the price alone, and trading it costs nothing that is known: an option is not taken for what it can do.
  const own = { name: UNDERLYING_NAME, delta: 1, gamma: 0, vega: 0, cost: 0 };
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
  const told = HEDGED_GREEKS.filter((name) => position[name] !== undefined);
  const sums = exposuresOf(position) as Record<(typeof HEDGED_GREEKS)[number], number>;
  const sizes = Object.fromEntries(told.map((name) => [name, Math.abs(sums[name])]));
  const step = (after: string) => ({ after, ...(Object.fromEntries(told.map((name) => [name, sums[name]])) as Given) });
  const steps = [step('start')];
  for (const [i, { name, quantity }] of trades.entries()) {
    const moves = exposuresOf(instruments[i]);
    for (const greek of told) {
      sums[greek] += quantity * moves[greek];
      sizes[greek] = Math.max(sizes[greek], Math.abs(quantity * moves[greek]));
      // What the sums cannot tell from nothing is nothing.
      if (Math.abs(sums[greek]) <= ROUNDING * sizes[greek]) sums[greek] = 0;
    }
    steps.push(step(name));
  }
  return { ok: true, answer: { trades, steps } };
}

/** Share of the largest part of a sum that its rounding may leave. */
const ROUNDING = 1e-13;
