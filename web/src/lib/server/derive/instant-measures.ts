import type { RowSource } from '../database/schema.ts';
import type { StoredMeasures } from '../repositories/measures.ts';
import type { StoredSlice } from '../repositories/slices.ts';
import { type Carry, deriveStored, type KnownEvent } from './derive-stored.ts';
import { measuresOf } from './measures-of.ts';
import { withPrice } from './standing-among.ts';

/** All that the measures of an instant are made of, as it is stored. */
export interface MeasuresInput {
  /** Nearest expiry first, not empty */
  rows: StoredSlice[];
  carry: Carry;
  events: KnownEvent[];
  closes: { session: string; close: number }[];
  source: RowSource;
}

/** Measures of one instant, derived from what is stored: pure computation. */
export function instantMeasures({ rows, carry, events, closes, source }: MeasuresInput): StoredMeasures {
  const surface = deriveStored(rows, {
    dateOf: () => '',
    carryOf: carry,
    events,
    forwardSource: 'parity',
    restored: [],
  });
  return measuresOf(surface, rows, withPrice(closes, rows[0].underlyingPrice), source);
}
