import { instantOf } from '@umwelt/market/zone';
import type { Settlement } from '../../api/settlement.ts';
import type { Database, Transaction } from '../database/connect.ts';
import { closeOn } from '../repositories/daily-bars.ts';
import { futuresCurveAt } from '../repositories/futures-curves.ts';
import type { StoredUnderlying } from '../repositories/underlyings.ts';

/** A curve of the close may be stored as long after it. */
const AFTER_CLOSE_MS = 60 * 60_000;

/**
 * What options of some dates were settled at: the close of that session; of options on a future the price at the close of the next
 * delivery.
 * @param o.instant nothing after it is known: of sessions that close later the price is null
 */
export function settlementsOf(
  database: Database | Transaction,
  stored: StoredUnderlying,
  { instant, dates }: { instant: Date; dates: readonly string[] },
): Promise<Settlement[]> {
  return Promise.all(
    [...new Set(dates)].map(async (expiry) => {
      const close = instantOf(`${expiry}T${stored.sessionClose}`, stored.zone) ?? NaN;
      const none: Settlement = { expiry, price: null, source: null };
      if (!(close <= instant.getTime())) return none;
      if (stored.model === 'spot') {
        const price = await closeOn(database, stored.id, expiry);
        return price === undefined ? none : { expiry, price, source: 'daily bar' as const };
      }
      const curve = await futuresCurveAt(database, stored.id, new Date(Math.min(close + AFTER_CLOSE_MS, +instant)));
      const at = curve && curve.instant.getTime() >= close ? curve.deliveries.findIndex((d) => d >= expiry) : -1;
      return curve && at >= 0 ? { expiry, price: curve.prices[at], source: 'futures curve' as const } : none;
    }),
  );
}
