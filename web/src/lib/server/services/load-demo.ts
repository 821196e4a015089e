import { LISTED, CROWN_CURVE, SCHEDULED_EVENTS, simulateMarket } from '@umwelt/market/veldmar';
import type { Database } from '../database/connect.ts';
import { insertBars } from '../repositories/daily-bars.ts';
import { insertEvents } from '../repositories/events.ts';
import { insertCurve } from '../repositories/rate-curves.ts';
import { insertSlices, storedInstants } from '../repositories/slices.ts';
import { findUnderlying, insertUnderlying } from '../repositories/underlyings.ts';
import { deriveMeasures } from './measure-history.ts';

const SEED = 20310314;
const SESSIONS = 30;

/** Loads the demo market in one transaction unless it is there; tells progress from 0 to 1. */
export async function loadDemo(database: Database, onprogress: (share: number, what: string) => void): Promise<void> {
  if (await findUnderlying(database, LISTED[0].symbol)) return;
  onprogress(0, 'simulating');
  const market = simulateMarket({ seed: SEED, sessions: SESSIONS });
  await database.transaction(async (transaction) => {
    const ids = new Map<string, number>();
    for (const listed of LISTED) {
      const { wideTick: _wide, tickChange: _change, ...terms } = listed;
      ids.set(listed.symbol, await insertUnderlying(transaction, { ...terms, model: 'spot', source: 'demo' }));
    }
    const idOf = (symbol: string) => ids.get(symbol) as number;
    const sessions = [...new Set(market.bars.map((b) => b.date))].sort();
    await insertCurve(transaction, {
      currency: 'XTS',
      session: sessions[0],
      days: [...CROWN_CURVE.days],
      rates: [...CROWN_CURVE.rates],
    });
    await insertEvents(
      transaction,
      SCHEDULED_EVENTS.map((e) => ({
        underlyingId: e.symbol === undefined ? null : idOf(e.symbol),
        instant: new Date(e.instant),
        kind: e.kind,
        label: e.label,
      })),
    );
    await insertBars(
      transaction,
      market.bars.map(({ symbol, date, ...bar }) => ({ ...bar, underlyingId: idOf(symbol), session: date })),
    );
    onprogress(0.1, 'storing quotes');
    await insertSlices(
      transaction,
      market.slices.map(({ symbol, instant, expiry, ...columns }) => ({
        ...columns,
        underlyingId: idOf(symbol),
        instant: new Date(instant),
        expiry: new Date(expiry),
      })),
    );
    let done = 0;
    for (const [symbol, id] of ids) {
      const instants = await storedInstants(transaction, id);
      for (const instant of instants) {
        await deriveMeasures(transaction, id, instant);
        done++;
        onprogress(0.3 + (0.7 * done) / (ids.size * instants.length), `deriving ${symbol}`);
      }
    }
  });
}
