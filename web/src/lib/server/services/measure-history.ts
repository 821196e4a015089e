import { termVolatility } from '@umwelt/core/surface';
import { type Standing, standing } from '@umwelt/core/volatility';
import type { Database, Transaction } from '../database/connect.ts';
import { closesUpTo } from '../repositories/daily-bars.ts';
import { eventsBetween } from '../repositories/events.ts';
import { sessionMeasures, type SessionMeasures, upsertMeasures } from '../repositories/measures.ts';
import { slicesAt } from '../repositories/slices.ts';
import type { StoredUnderlying } from '../repositories/underlyings.ts';
import { carryAt } from './carry-at.ts';
import { deriveStored } from './derive-stored.ts';
import { TENOR_DAYS } from '../../figures/tenor-days.ts';
import { CLOSES_NEEDED, measuresOf } from './measures-of.ts';
import { sessionDate } from './session-date.ts';

const YEAR = 365 * 86_400_000;

/** Derives and stores the measures of one stored instant. */
export async function deriveMeasures(
  database: Database | Transaction,
  underlying: StoredUnderlying,
  instant: Date,
): Promise<void> {
  const [rows, carry, closes] = await Promise.all([
    slicesAt(database, underlying.id, instant),
    carryAt(database, underlying, instant),
    closesUpTo(database, underlying.id, sessionDate(instant, underlying.zone), CLOSES_NEEDED),
  ]);
  if (rows.length === 0) return;
  const events = await eventsBetween(database, {
    underlyingId: underlying.id,
    from: instant,
    to: rows[rows.length - 1].expiry,
  });
  const surface = deriveStored(rows, { dateOf: () => '', carry, events, forwardSource: 'parity', restored: [] });
  await upsertMeasures(database, [measuresOf(surface, rows, withPrice(closes, rows[0].underlyingPrice))]);
}

/** Closes before a session with the instant's own price as the last. */
export function withPrice(closes: { session: string; close: number }[], price: number): number[] {
  return [...closes.map((c) => c.close), price];
}

/** The year of measures before an instant: the last of each session. */
export async function measureHistory(database: Database, o: { id: number; zone: string }, instant: Date) {
  const past = await sessionMeasures(database, {
    underlyingId: o.id,
    zone: o.zone,
    from: new Date(instant.getTime() - YEAR),
    to: instant,
  });
  // The instant's own session is not its past.
  if (past.length > 0 && sessionDate(past[past.length - 1].instant, o.zone) === sessionDate(instant, o.zone))
    past.pop();
  const atTenor = (m: SessionMeasures, days: number) =>
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
