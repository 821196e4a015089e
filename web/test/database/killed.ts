import { connect } from '../../src/lib/server/database/connect.ts';
import { importOptions } from '../../src/lib/api/chain-import.ts';
import { importChain } from '../../src/lib/server/imports/import-chain.ts';
import { undoImport } from '../../src/lib/server/imports/undo-import.ts';
import { removeUnderlying } from '../../src/lib/server/services/change-underlying.ts';
import { readFileSync } from 'node:fs';
import { spooled } from './spooled.ts';

/* Does one thing to a database and says when it begins and when it is done; its starter may kill it in the middle. */

const [what, argument] = process.argv.slice(2);
const connection = connect(process.env.DATABASE_URL ?? '');
console.log('begins');
if (what === 'undo') await undoImport(connection, 'local', argument);
else if (what === 'delete') await removeUnderlying(connection, argument);
else
  await importChain(connection, 'local', {
    files: [await spooled(readFileSync(argument))],
    options: importOptions.parse({}),
  });
console.log('done');
process.exit(0);
