import { and, desc, eq, isNotNull } from 'drizzle-orm';
import type { Database, Transaction } from '../database/connect.ts';
import { importMappings, type ImportRefusal, imports } from '../database/schema.ts';

export type StoredImport = typeof imports.$inferSelect;

/** Imports of an owner, newest first. */
export function listImports(database: Database | Transaction, owner: string): Promise<StoredImport[]> {
  return database.select().from(imports).where(eq(imports.owner, owner)).orderBy(desc(imports.sequence)).limit(100);
}

/** One import of an owner. */
export async function findImport(
  database: Database | Transaction,
  owner: string,
  id: string,
): Promise<StoredImport | undefined> {
  const [row] = await database
    .select()
    .from(imports)
    .where(and(eq(imports.owner, owner), eq(imports.id, id)))
    .for('update');
  return row;
}

/** Takes an import off the list, of one that changed nothing. */
export async function forgetImport(database: Database | Transaction, id: string): Promise<void> {
  await database.delete(imports).where(eq(imports.id, id));
}

/** Mapping that an owner used for files with these headers, as it was stored. */
export async function rememberedMapping(database: Database | Transaction, owner: string, headers: string) {
  const [row] = await database
    .select({ options: importMappings.options })
    .from(importMappings)
    .where(and(eq(importMappings.owner, owner), eq(importMappings.headers, headers)));
  return row?.options;
}

/** Key under which the mapping of files with these headers is remembered. */
export function headerKey(headers: readonly string[]): string {
  return JSON.stringify(headers);
}

/** Remembers how an owner reads files with these headers. */
export async function rememberMapping(
  database: Database | Transaction,
  o: { owner: string; headers: string; options: object },
): Promise<void> {
  await database
    .insert(importMappings)
    .values(o)
    .onConflictDoUpdate({ target: [importMappings.owner, importMappings.headers], set: { options: o.options } });
}

/** Keeps that a file was stored, before what it replaces is written down. @returns the import's id */
export async function recordImport(
  database: Database | Transaction,
  o: Pick<StoredImport, 'owner' | 'fileName' | 'table' | 'sha256' | 'options' | 'rows' | 'slices' | 'leftOut'>,
): Promise<string> {
  const [{ id }] = await database
    .insert(imports)
    .values({ ...o, undo: 'possible' })
    .returning({ id: imports.id });
  return id;
}

/** Takes refused files off an owner's list. */
export async function clearRefusals(database: Database | Transaction, owner: string): Promise<number> {
  const gone = await database
    .delete(imports)
    .where(and(eq(imports.owner, owner), isNotNull(imports.refusal)))
    .returning({ id: imports.id });
  return gone.length;
}

/** Keeps that a file was refused, and why. */
export async function recordRefusal(
  database: Database | Transaction,
  o: { owner: string; fileName: string; table: string; refusal: ImportRefusal },
): Promise<void> {
  await database.insert(imports).values({ ...o, sha256: '', options: {}, rows: 0, slices: 0 });
}
