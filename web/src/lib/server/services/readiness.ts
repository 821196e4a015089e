import { readMigrationFiles } from 'drizzle-orm/migrator';
import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { ProcessStatus } from '../../api/live.ts';
import type { Connection } from '../database/connect.ts';
import { hasProcess, listProcesses } from '../repositories/processes.ts';
import { SILENT_SECONDS } from '../processes/sign-of-life.ts';

export type MissingPart = 'database' | 'migrations' | 'worker';

/** A database that does not answer within this time counts as away, milliseconds. */
const PATIENCE = 2000;

/** The folder of migrations: beside the processes' folder when built, in the tree otherwise. */
export function migrationsFolder(): string {
  const built = join(dirname(process.argv[1] ?? ''), '..', 'drizzle');
  return existsSync(join(built, 'meta')) ? built : fileURLToPath(new URL('../../../../drizzle', import.meta.url));
}

let newest: number | undefined;
/** When the newest migration that this code knows was made, milliseconds since 1970. */
function newestMigration(): number {
  newest ??= Math.max(...readMigrationFiles({ migrationsFolder: migrationsFolder() }).map((m) => m.folderMillis));
  return newest;
}

/** What the application lacks to serve (database, migrations), and, for long work only, a worker. */
export async function missingParts(connection: Connection): Promise<MissingPart[]> {
  return Promise.race([
    lookFor(connection).catch((): MissingPart[] => ['database']),
    new Promise<MissingPart[]>((resolve) => setTimeout(() => resolve(['database']), PATIENCE).unref()),
  ]);
}

async function lookFor({ sql, database }: Connection): Promise<MissingPart[]> {
  const [{ isThere }] = await sql<{ isThere: boolean }[]>`
    select to_regclass('drizzle.__drizzle_migrations') is not null as "isThere"`;
  if (!isThere) return ['migrations'];
  const [{ last }] = await sql<{ last: string | null }[]>`
    select max(created_at)::text as last from drizzle.__drizzle_migrations`;
  if (Number(last ?? 0) < newestMigration()) return ['migrations'];
  return (await hasProcess(database, 'worker', SILENT_SECONDS)) ? [] : ['worker'];
}

/** The application's processes on any machine. */
export function processesOf({ database }: Pick<Connection, 'database'>): Promise<ProcessStatus[]> {
  return listProcesses(database);
}
