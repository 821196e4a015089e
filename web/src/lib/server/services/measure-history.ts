import { type Surface, termVolatility } from '@umwelt/core/surface';
import { type Standing, standing } from '@umwelt/core/volatility';
import type { Database, Transaction } from '../database/connect.ts';
import { measuresBetween, type StoredMeasures, upsertMeasures } from '../repositories/measures.ts';
import { slicesAt } from '../repositories/slices.ts';
import { deriveStored } from './derive-stored.ts';

/** Raise when the derivation changes, so that stored measures can be told apart. */
export const DERIVATION_VERSION = 1;
const TENOR_DAYS = [7, 14, 30, 60, 90, 180, 365];
const YEAR = 365 * 86_400_000;

function measuresOf(surface: Surface, o: { underlyingId: number; instant: Date; price: number }): StoredMeasures {
  const nearest = surface.expiries.reduce(
    (best, e) => (Math.abs(e.slice.timeToExpiry * 365 - 30) < Math.abs(best.slice.timeToExpiry * 365 - 30) ? e : best),
    surface.expiries[0],
  );
  return {
    underlyingId: o.underlyingId,
    instant: o.instant,
    version: DERIVATION_VERSION,
    underlyingPrice: o.price,
    atmByTenor: TENOR_DAYS.map((days) => termVolatility(surface.term, days / 365)),
    index30: surface.index30,
    riskReversal25: nearest.measures?.riskReversal25 ?? null,
  };
}

/** Derives and stores the measures of one stored instant. */
export async function deriveMeasures(
  database: Database | Transaction,
  underlyingId: number,
  instant: Date,
): Promise<void> {
  const rows = await slicesAt(database, underlyingId, instant);
  if (rows.length === 0) return;
  const surface = deriveStored(rows, { dateOf: () => '', forwardSource: 'parity', restored: [] });
  await upsertMeasures(database, [measuresOf(surface, { underlyingId, instant, price: rows[0].underlyingPrice })]);
}

/** The year of measures before an instant. */
export async function measureHistory(database: Database, underlyingId: number, instant: Date) {
  const past = await measuresBetween(database, underlyingId, new Date(instant.getTime() - YEAR), instant);
  const atTenor = (m: StoredMeasures, days: number) =>
    termVolatility(
      TENOR_DAYS.map((tenor, i) => ({ timeToExpiry: tenor / 365, volatility: m.atmByTenor[i] })),
      days / 365,
    );
  return {
    past,
    atm30: past.map((m) => ({ instant: m.instant, atm30: m.atmByTenor[TENOR_DAYS.indexOf(30)] })),
    /** Standing of a volatility among the past volatilities of the same time to expiry */
    standingAt: (volatility: number, days: number): Standing | undefined =>
      standing(
        volatility,
        past.map((m) => atTenor(m, days)),
      ),
  };
}
