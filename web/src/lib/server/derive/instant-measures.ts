import type { RowSource } from '../database/schema.ts';
import type { StoredMeasures } from '../repositories/measures.ts';
import type { StoredSlice } from '../repositories/slices.ts';
import { type Carry, deriveStored, type KnownEvent } from './derive-stored.ts';
import { measuresOf } from './measures-of.ts';
import type { SessionBars } from './session-bars.ts';

/** All that the measures of an instant are made of, as it is stored. */
export interface MeasuresInput {
  /** Nearest expiry first, not empty */
  rows: StoredSlice[];
  carry: Carry;
  events: KnownEvent[];
  /** Sessions that have ended by the instant */
  ended: SessionBars;
  source: RowSource;
}

/** Measures of one instant, derived from what is stored: pure computation. */
export function instantMeasures({ rows, carry, events, ended, source }: MeasuresInput): StoredMeasures {
  const surface = deriveStored(rows, {
    dateOf: () => '',
    carryOf: carry,
    events,
    forwardSource: 'parity',
    restored: [],
  });
  return measuresOf(surface, rows, ended, { events, source });
}
