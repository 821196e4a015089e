import { and, desc, eq, lte } from 'drizzle-orm';
import type { Database, Transaction } from '../database/connect.ts';
import { rateCurves } from '../database/schema.ts';

export interface RateCurve {
  days: number[];
  rates: number[];
}

/** Latest curve of a currency on or before a civil date. */
export async function curveOn(
  database: Database | Transaction,
  currency: string,
  session: string,
): Promise<RateCurve | undefined> {
  const [row] = await database
    .select({ days: rateCurves.days, rates: rateCurves.rates })
    .from(rateCurves)
    .where(and(eq(rateCurves.currency, currency), lte(rateCurves.session, session)))
    .orderBy(desc(rateCurves.session))
    .limit(1);
  return row;
}

export async function insertCurves(
  database: Database | Transaction,
  rows: (RateCurve & { currency: string; session: string })[],
): Promise<void> {
  const batch = 2000;
  for (let i = 0; i < rows.length; i += batch) await database.insert(rateCurves).values(rows.slice(i, i + batch));
}
