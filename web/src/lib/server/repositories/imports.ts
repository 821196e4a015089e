import { and, desc, eq } from 'drizzle-orm';
import type { Database, Transaction } from '../database/connect.ts';
import { importMappings, imports } from '../database/schema.ts';

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
