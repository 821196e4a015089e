import { fileURLToPath } from 'node:url';
import { migrate } from 'drizzle-orm/postgres-js/migrator';
import postgres from 'postgres';
import { connect } from '../src/lib/server/database/connect.ts';

/** A database of its own on the real server, migrated; `drop` removes it. @param o.migrationsFolder another than the present one */
export async function testDatabase(o: { migrationsFolder?: string } = {}) {
  const base = process.env.DATABASE_URL;
  if (!base) throw new Error('DATABASE_URL is not set; ./test starts the database and sets it');
  const name = `test_${process.pid}_${Math.trunc(performance.now())}`;
  const admin = postgres(base, { max: 1 });
  await admin.unsafe(`create database ${name}`);
  const url = base.replace(/\/[^/]*$/, `/${name}`);
  const connection = connect(url, { connections: 4 });
  const migrationsFolder = o.migrationsFolder ?? fileURLToPath(new URL('../drizzle', import.meta.url));
  await migrate(connection.database, { migrationsFolder });
  return {
    connection,
    /** For processes of their own */
    url,
    async drop() {
      await connection.close();
      // Killed processes may not have left yet.
      await admin.unsafe(`drop database ${name} with (force)`);
      await admin.end();
    },
  };
}
