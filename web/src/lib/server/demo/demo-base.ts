import {
  CURRENCIES,
  curveOn,
  dateText,
  DEMO_SEED,
  dividendsOf,
  HISTORY_SESSIONS,
  SCHEDULED_EVENTS,
  SPLITS,
  sessionsUpTo,
  TODAY_DAY,
  UNIVERSE,
  VeldmarMarket,
} from '@umwelt/market/veldmar';
import type { Connection } from '../database/connect.ts';
import { demo } from '../database/schema.ts';
import { SESSION_CLOSE } from '@umwelt/market/zone';
import { upsertBars } from '../repositories/daily-bars.ts';
import { upsertDividends } from '../repositories/dividends.ts';
import { replaceEvents } from '../repositories/events.ts';
import { upsertIntradayBars } from '../repositories/intraday-bars.ts';
import { upsertSplits } from '../repositories/splits.ts';
import { upsertCurves } from '../repositories/rate-curves.ts';
import { removeDemoRows } from '../repositories/demo-rows.ts';
import { findUnderlying, insertUnderlying, updateUnderlying } from '../repositories/underlyings.ts';
import { DEMO_VERSION } from './demo-version.ts';

let market: VeldmarMarket | undefined;

/** The demo's market, simulated on first use. */
export function demoMarket(): VeldmarMarket {
  market ??= new VeldmarMarket(DEMO_SEED);
  return market;
}

/** Whether what the database holds of the demo is what this code would make. */
export async function isDemoCurrent(connection: Connection): Promise<boolean> {
  const [row] = await connection.database.select().from(demo);
  return row?.version === DEMO_VERSION && row.isClaimed;
}

/**
 * Everything of the demo but chains: underlyings, terms, dividends, events, rate curves, two years of daily bars. What an
 * earlier demo stored goes; what users own stays, also beside the demo's own and in the place of a row of the demo's.
 */
export async function storeDemoBase(connection: Connection): Promise<void> {
  const simulated = demoMarket();
  await connection.transaction(async ({ database }) => {
    await removeDemoRows(
      database,
      UNIVERSE.map((u) => u.symbol),
    );
    await database
      .insert(demo)
      .values({ id: 1, version: DEMO_VERSION })
      .onConflictDoUpdate({ target: demo.id, set: { version: DEMO_VERSION, isClaimed: true } });
    const ids = new Map<string, number>();
    for (const listed of UNIVERSE) {
      const { symbol, name, sector, kind, exercise, model, settlement, multiplier, currency, zone } = listed;
      const { foreignCurrency = null, optionTick, underlyingTick } = listed;
      const terms = {
        kind,
        exercise,
        model,
        settlement,
        multiplier,
        currency,
        zone,
        optionTick,
        underlyingTick,
        sessionClose: SESSION_CLOSE,
      };
      const row = { symbol, name, sector, source: 'demo' as const, foreignCurrency, ...terms };
      const known = await findUnderlying(database, symbol);
      // A symbol that a user brought before the demo had one is the user's.
      if (known?.source === 'import') continue;
      if (known) await updateUnderlying(database, known.id, row);
      ids.set(symbol, known?.id ?? (await insertUnderlying(database, row)));
    }
    const source = 'demo' as const;
    const ofEach = <T>(symbol: string, rows: readonly T[]): (T & { underlyingId: number; source: 'demo' })[] => {
      const underlyingId = ids.get(symbol);
      return underlyingId === undefined ? [] : rows.map((row) => ({ ...row, underlyingId, source }));
    };
    const days = sessionsUpTo(TODAY_DAY, HISTORY_SESSIONS);
    await upsertCurves(
      database,
      CURRENCIES.flatMap((currency) =>
        days.map((day) => ({ currency, session: dateText(day), ...curveOn(currency, day), source })),
      ),
    );
    await replaceEvents(
      database,
      // An event of the whole market is kept for each underlying that it moves; for the others it is none.
      SCHEDULED_EVENTS.flatMap(({ instant, kind, label, moves }) =>
        Object.keys(moves).flatMap((symbol) => ofEach(symbol, [{ instant: new Date(instant), kind, label }])),
      ),
    );
    await upsertDividends(
      database,
      UNIVERSE.flatMap((u) =>
        ofEach(
          u.symbol,
          dividendsOf(u).map(({ exDate, instant, amount }) => ({ exDate, instant: new Date(instant), amount })),
        ),
      ),
    );
    await upsertBars(
      database,
      UNIVERSE.flatMap((u) =>
        ofEach(
          u.symbol,
          simulated.bars(u.symbol).map(({ date, ...bar }) => ({ ...bar, session: date })),
        ),
      ),
    );
    await upsertIntradayBars(
      database,
      UNIVERSE.flatMap((u) =>
        ofEach(
          u.symbol,
          simulated.intradayBars(u.symbol).map((bar) => ({ ...bar, instant: new Date(bar.instant) })),
        ),
      ),
    );
    await upsertSplits(
      database,
      SPLITS.flatMap(({ symbol, session, ratio }) => ofEach(symbol, [{ session, ratio }])),
    );
  });
}
