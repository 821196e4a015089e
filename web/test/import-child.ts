import { createReadStream } from 'node:fs';
import { importOptions } from '../src/lib/schema/chain-import.ts';
import { connect } from '../src/lib/server/database/connect.ts';
import { importChain } from '../src/lib/server/services/import-chain.ts';

/* Imports a file, slowly, in a process that a test kills in the middle. */

const [path] = process.argv.slice(2);
const connection = connect(process.env.DATABASE_URL ?? '', { connections: 2 });
async function* slowly() {
  for await (const piece of createReadStream(path, { highWaterMark: 1 << 16 })) {
    yield piece as Uint8Array;
    await new Promise((resolve) => setTimeout(resolve, 150));
  }
}
const outcome = await importChain(connection, 'local', slowly(), importOptions.parse({ fileName: 'slow.csv' }));
console.log(JSON.stringify(outcome.ok));
await connection.close();
