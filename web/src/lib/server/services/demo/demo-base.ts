import {
  CURRENCIES,
  curveOn,
  dateText,
  DEMO_SEED,
  dividendsOf,
  HISTORY_SESSIONS,
  SCHEDULED_EVENTS,
  SIMULATOR_VERSION,
  sessionsUpTo,
  TODAY_DAY,
  UNIVERSE,
  VeldmarMarket,
} from '@umwelt/market/veldmar';
import type { Connection } from '../../database/connect.ts';
import { onTransaction } from '../../database/connect.ts';
import { demo } from '../../database/schema.ts';
import { upsertBars } from '../../repositories/daily-bars.ts';
import { upsertDividends } from '../../repositories/dividends.ts';
import { replaceEvents } from '../../repositories/events.ts';
import { upsertCurves } from '../../repositories/rate-curves.ts';
import { insertUnderlying } from '../../repositories/underlyings.ts';
import { DERIVATION_VERSION } from '../measures-of.ts';

let market: VeldmarMarket | undefined;

/** The demo's market, simulated on first use. */
export function demoMarket(): VeldmarMarket {
  market ??= new VeldmarMarket(DEMO_SEED);
  return market;
}

/** What the demo is made by: its quotes by the simulator, its two years of measures by the derivation. */
const DEMO_VERSION = 1000 * SIMULATOR_VERSION + DERIVATION_VERSION;

/** Whether what the database holds of the demo is what this code would make. */
export async function isDemoCurrent(connection: Connection): Promise<boolean> {
  const [row] = await connection.database.select().from(demo);
  return row?.version === DEMO_VERSION;
}

/** Everything of the demo but chains: underlyings, terms, dividends, events, rate curves, two years of daily bars. */
export async function storeDemoBase(connection: Connection): Promise<void> {
  const simulated = demoMarket();
  await connection.sql.begin(async (sql) => {
    const database = onTransaction(sql, connection.sql);
    await sql`delete from underlyings where source = 'demo'`;
    await sql`truncate events, rate_curves`;
    // A market that ran on from another past does not belong to this one.
    await sql`delete from feed`;
    await database
      .insert(demo)
      .values({ id: 1, version: DEMO_VERSION })
      .onConflictDoUpdate({ target: demo.id, set: { version: DEMO_VERSION } });
    const ids = new Map<string, number>();
    for (const listed of UNIVERSE) {
      const { symbol, name, sector, kind, exercise, model, settlement, multiplier, currency, zone } = listed;
      const { foreignCurrency = null, optionTick, underlyingTick } = listed;
      const terms = { kind, exercise, model, settlement, multiplier, currency, zone, optionTick, underlyingTick };
      ids.set(
        symbol,
        await insertUnderlying(database, { symbol, name, sector, source: 'demo', foreignCurrency, ...terms }),
      );
    }
    const idOf = (symbol: string) => ids.get(symbol) as number;
    const days = sessionsUpTo(TODAY_DAY, HISTORY_SESSIONS);
    await upsertCurves(
      database,
      CURRENCIES.flatMap((currency) =>
        days.map((day) => ({ currency, session: dateText(day), ...curveOn(currency, day) })),
      ),
    );
    await replaceEvents(
      database,
      // An event of the whole market is kept for each underlying that it moves; for the others it is none.
      SCHEDULED_EVENTS.flatMap((e) =>
        Object.keys(e.moves).map((symbol) => ({
          underlyingId: idOf(symbol),
          instant: new Date(e.instant),
          kind: e.kind,
          label: e.label,
        })),
      ),
    );
    await upsertDividends(
      database,
      UNIVERSE.flatMap((u) =>
        dividendsOf(u).map(({ exDate, instant, amount }) => ({
          underlyingId: idOf(u.symbol),
          exDate,
          instant: new Date(instant),
          amount,
        })),
      ),
    );
    await upsertBars(
      database,
      UNIVERSE.flatMap((u) =>
        simulated.bars(u.symbol).map(({ date, ...bar }) => ({ ...bar, underlyingId: idOf(u.symbol), session: date })),
      ),
    );
  });
}
