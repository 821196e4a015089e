import { fileURLToPath } from 'node:url';
import { migrate } from 'drizzle-orm/postgres-js/migrator';
import { connect } from '../src/lib/server/database/connect.ts';
import { readEnvironment } from '../src/lib/server/services/environment.ts';
import { loadDemo } from '../src/lib/server/services/load-demo.ts';

/*
 * Brings the database up to date: `prepare.ts [--demo] [--reset [--without-imports]]`. A reset makes the demo anew and
 * keeps what was imported, unless told otherwise.
 */

const isReset = process.argv.includes('--reset');
const wantsDemo = process.argv.includes('--demo');
const { database, sql, close } = connect(readEnvironment().DATABASE_URL, { connections: 1 });

let last = '';
function tell(share: number, what: string): void {
  const line = `demo data ${String(Math.round(share * 100)).padStart(3)} % ${what}`;
  if (line === last) return;
  last = line;
  if (process.stdout.isTTY) process.stdout.write(`\r\x1b[K${line}`);
  else if (share === 0 || share === 1 || Math.round(share * 100) % 20 === 0) console.log(line);
}

try {
  await migrate(database, { migrationsFolder: fileURLToPath(new URL('../drizzle', import.meta.url)) });
  if (isReset) {
    await sql`delete from underlyings where source = 'demo' or ${process.argv.includes('--without-imports')}`;
    await sql`truncate events, rate_curves`;
    if (process.argv.includes('--without-imports')) await sql`truncate imports, import_mappings`;
  }
  if (wantsDemo) {
    await loadDemo(database, tell);
    if (last !== '' && process.stdout.isTTY) process.stdout.write('\n');
  }
} finally {
  await close();
}
