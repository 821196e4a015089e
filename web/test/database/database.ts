import { migrate } from 'drizzle-orm/node-postgres/migrator';
import { connect } from '../../src/lib/server/database/connect.ts';
import { prepared } from '../prepared.ts';

let made = 0;

/**
 * A database of its own on the real server, brought up to date; `drop` removes it.
 * @param o.with nothing, or today's chains of every underlying of the demo
 * @param o.migrationsFolder another than the present one; then without anything in it
 */
export async function testDatabase(o: { with?: 'nothing' | 'today'; migrationsFolder?: string } = {}) {
  const base = prepared('DATABASE_URL');
  const name = `test_${process.pid}_${made++}_${Math.trunc(performance.now())}`;
  const admin = connect(base, { connections: 1 });
  const template = o.with === 'today' ? prepared('TEMPLATE_TODAY') : prepared('TEMPLATE_EMPTY');
  await admin.sql.text(`create database ${name} template ${o.migrationsFolder ? 'template1' : template}`);
  const url = base.replace(/\/[^/]*$/, `/${name}`);
  const connection = connect(url, { connections: 4 });
  if (o.migrationsFolder) await migrate(connection.database, { migrationsFolder: o.migrationsFolder });
  return {
    connection,
    /** For processes of their own */
    url,
    async drop() {
      await connection.close();
      // Killed processes may not have left yet.
      await admin.sql.text(`drop database ${name} with (force)`);
      await admin.close();
    },
  };
}

export type TestDatabase = Awaited<ReturnType<typeof testDatabase>>;
