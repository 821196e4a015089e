import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { brotliCompress, constants, gzip } from 'node:zlib';

/* Lays beside each file that browsers fetch what the server sends of it to who takes it compressed. */

const folder = fileURLToPath(new URL('../build/client', import.meta.url));
const paths = readdirSync(folder, { recursive: true }).filter((name) =>
  /\.(js|css|html|svg|json|txt|webmanifest)$/.test(name),
);
await Promise.all(
  paths.map(async (name) => {
    const path = `${folder}/${name}`;
    const bytes = readFileSync(path);
    const params = {
      [constants.BROTLI_PARAM_QUALITY]: constants.BROTLI_MAX_QUALITY,
      [constants.BROTLI_PARAM_SIZE_HINT]: bytes.length,
    };
    writeFileSync(`${path}.gz`, await promisify(gzip)(bytes, { level: constants.Z_BEST_COMPRESSION }));
    writeFileSync(`${path}.br`, await promisify(brotliCompress)(bytes, { params }));
  }),
);
