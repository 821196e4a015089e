import { and, eq } from 'drizzle-orm';
import { smileLink, type SmileLink } from '../../api/borrow.ts';
import type { Database, Transaction } from '../database/connect.ts';
import { smileLinks } from '../database/schema.ts';

/** Link of an underlying, by symbol so that it outlives the data of either side. */
export async function smileLinkOf(
  database: Database | Transaction,
  owner: string,
  symbol: string,
): Promise<SmileLink | undefined> {
  const [row] = await database
    .select()
    .from(smileLinks)
    .where(and(eq(smileLinks.owner, owner), eq(smileLinks.symbol, symbol)));
  return row && smileLink.strip().parse(row);
}

export async function saveSmileLink(
  database: Database | Transaction,
  owner: string,
  symbol: string,
  link: SmileLink,
): Promise<void> {
  await database
    .insert(smileLinks)
    .values({ owner, symbol, ...link })
    .onConflictDoUpdate({ target: [smileLinks.owner, smileLinks.symbol], set: link });
}

export async function deleteSmileLink(database: Database | Transaction, owner: string, symbol: string): Promise<void> {
  await database.delete(smileLinks).where(and(eq(smileLinks.owner, owner), eq(smileLinks.symbol, symbol)));
}
