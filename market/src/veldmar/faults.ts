import type { Side } from '@umwelt/core/pricing';
import type { RandomSource } from '../random/index.ts';

/** Wrong on purpose, as real feeds are at times. */
export type FaultKind = 'stale' | 'crossed' | 'zero-bid';

/** Share of the quotes worth at least eight ticks that are spoilt in each way. */
export const FAULT_RATES: Readonly<Record<FaultKind, number>> = { stale: 0.0012, crossed: 0.0008, 'zero-bid': 0.0008 };
/** A quote worth less shows its faults by nothing. */
export const LEAST_TICKS = 8;

export interface InjectedFault {
  kind: FaultKind;
  side: Side;
  /** Position of the strike in the slice */
  index: number;
}

const RATES = Object.entries(FAULT_RATES) as [FaultKind, number][];

/** Which fault a draw brings, if any. */
export function drawFault(random: RandomSource): FaultKind | undefined {
  let draw = random.uniform();
  for (const [kind, rate] of RATES) {
    if (draw < rate) return kind;
    draw -= rate;
  }
  return undefined;
}

/** The one expiry whose quotes belong to another: the fault of a whole slice. Dates YYYY-MM-DD. */
export const WRONG_EXPIRY = {
  symbol: 'SKALD',
  expiry: '2031-05-16',
  quotesOf: '2031-09-19',
  from: '2031-03-14',
} as const;
