import { and, desc, eq } from 'drizzle-orm';
import type { Database, Transaction } from '../database/connect.ts';
import { importMappings, type ImportRefusal, imports } from '../database/schema.ts';

export type StoredImport = typeof imports.$inferSelect;

/** Imports of an owner, newest first. */
export function listImports(database: Database | Transaction, owner: string): Promise<StoredImport[]> {
  return database.select().from(imports).where(eq(imports.owner, owner)).orderBy(desc(imports.sequence)).limit(100);
}

/** Mapping that an owner used for files with these headers, as it was stored. */
export async function rememberedMapping(database: Database | Transaction, owner: string, headers: string) {
  const [row] = await database
    .select({ options: importMappings.options })
    .from(importMappings)
    .where(and(eq(importMappings.owner, owner), eq(importMappings.headers, headers)));
  return row?.options;
}

/** Keeps that a file was refused, and why. */
export async function recordRefusal(
  database: Database | Transaction,
  o: { owner: string; fileName: string; table: string; refusal: ImportRefusal },
): Promise<void> {
  await database.insert(imports).values({ ...o, sha256: '', options: {}, rows: 0, slices: 0 });
}

/** Keeps that a table was stored. */
export async function recordTableImport(
  database: Database | Transaction,
  o: { owner: string; fileName: string; table: string; sha256: string; options: object; rows: number },
): Promise<void> {
  await database.insert(imports).values({ ...o, slices: 0 });
}
