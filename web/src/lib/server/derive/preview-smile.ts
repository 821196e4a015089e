import { smileVolatility, describedSmile } from '@umwelt/core/surface';
import type { PreviewSmile } from '../../api/chain-import.ts';
import type { GatheredSlice } from '../repositories/chain-staging.ts';
import { SLICE_COLUMNS, type StoredSlice } from '../repositories/slices.ts';
import { type Carry, deriveStored } from './derive-stored.ts';
import { sessionDate } from './session-date.ts';
import { finiteOrNull } from '../../api/finite-or-null.ts';

const NEAR_DAYS = 30;
const POINTS = 61;

/** The smile nearest to 30 days that slices of one instant give, with the out-of-the-money quotes behind it. */
export function previewSmile(o: { slices: readonly GatheredSlice[]; carry: Carry; zone: string }): PreviewSmile | null {
  const rows = o.slices.filter((s) => !Number.isNaN(s.underlyingPrice)).map(storedSlice);
  if (rows.length === 0) return null;
  const dateOf = (at: Date) => sessionDate(at, o.zone);
  const surface = deriveStored(rows, { dateOf, carryOf: o.carry, events: [], forwardSource: 'parity', restored: [] });
  const distance = (years: number) => Math.abs(years * 365 - NEAR_DAYS);
  const order = surface.expiries
    .map((e, i) => ({ e, row: rows[i] }))
    .sort((a, b) => distance(a.e.slice.timeToExpiry) - distance(b.e.slice.timeToExpiry));
  const { e, row } = order.find((c) => c.e.smile) ?? order[0];
  const { forward } = e.forward;
  const quotes = Array.from(row.strikes).map((strike, i): PreviewSmile['quotes'][number] => {
    const side = strike < forward ? 'put' : 'call';
    const { bid, ask } = e.volatilities(side);
    return {
      strike,
      side,
      bid: finiteOrNull(bid[i]),
      ask: finiteOrNull(ask[i]),
      isRejected: e.verdicts[side][i] !== undefined,
    };
  });
  const { smile } = e;
  const curve = smile
    ? Array.from({ length: POINTS }, (_, i) => {
        const k = smile.range[0] + ((smile.range[1] - smile.range[0]) * i) / (POINTS - 1);
        return {
          strike: forward * Math.exp(k),
          volatility: smileVolatility(describedSmile(smile.description, e.slice.timeToExpiry), k),
        };
      })
    : [];
  return {
    symbol: o.slices[0].symbol,
    expiry: dateOf(row.expiry),
    days: e.slice.timeToExpiry * 365,
    forward,
    atm: finiteOrNull(e.measures?.atm),
    quotes,
    curve,
  };
}

function storedSlice(slice: GatheredSlice): StoredSlice {
  const snake = (name: string) => name.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`);
  const { instant, expiry, underlyingPrice, strikes, columns } = slice;
  const arrays = SLICE_COLUMNS.map((name) => [
    name,
    Float64Array.from(name === 'strikes' ? strikes : columns[snake(name)]),
  ]);
  return { underlyingId: 0, instant, expiry, underlyingPrice, ...Object.fromEntries(arrays) } as StoredSlice;
}
