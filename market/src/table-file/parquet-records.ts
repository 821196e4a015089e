// eslint-disable-next-line @typescript-eslint/triple-slash-reference -- one file of a package that declares its face alone
/// <reference path="./lz4.d.ts" />
import {
  type AsyncBuffer,
  type Compressors,
  type FileMetaData,
  parquetMetadataAsync,
  parquetReadObjects,
} from 'hyparquet';
import { brotliDecompressSync, gunzipSync } from 'node:zlib';
import { decompress } from 'fzstd';
import { decompressLz4, decompressLz4Raw } from 'hyparquet-compressors/src/lz4.js';
import { checkLimit, type FileLimits } from '../file-limits/index.ts';
import { notReadable } from './file-source.ts';

/**
 * What Parquet files are written with besides Snappy, which the reader has. The package as a whole would bring a second Snappy,
 * which reserves more address space than a process that reads files has.
 */
const compressors: Compressors = {
  GZIP: (input) => new Uint8Array(gunzipSync(input)),
  BROTLI: (input) => new Uint8Array(brotliDecompressSync(input)),
  ZSTD: (input) => decompress(input),
  LZ4: decompressLz4,
  LZ4_RAW: decompressLz4Raw,
};

/** Rows of a Parquet file. @throws LimitExceeded; Unreadable */
export async function* parquetRecords(file: AsyncBuffer, limits: FileLimits): AsyncGenerator<Record<string, unknown>> {
  try {
    // The index says how much there is before anything of it is unfolded.
    const metadata = await parquetMetadataAsync(file);
    const columns = metadata.schema.length - 1;
    checkLimit(limits, 'columns', columns);
    checkLimit(limits, 'rows', Number(metadata.num_rows));
    checkLimit(limits, 'cells', Number(metadata.num_rows) * columns);
    const inflated = metadata.row_groups.map((g) => Number(g.total_byte_size));
    checkLimit(
      limits,
      'bytes',
      inflated.reduce((sum, size) => sum + size, 0),
    );
    const mends = mendsOf(metadata);
    let rowStart = 0;
    for (const group of metadata.row_groups) {
      const rowEnd = rowStart + Number(group.num_rows);
      for (const record of await parquetReadObjects({ file, metadata, rowStart, rowEnd, compressors })) {
        for (const [name, mend] of mends) record[name] = mend(record[name]);
        yield record;
      }
      rowStart = rowEnd;
    }
  } catch (error) {
    throw notReadable('Parquet', error);
  }
}

/** What the reader makes of some columns is not what they say: dates become instants, decimals lose their last digit. */
function mendsOf(metadata: FileMetaData): [string, (value: unknown) => unknown][] {
  return metadata.schema.flatMap((column): [string, (value: unknown) => unknown][] => {
    const { name, logical_type: logical, converted_type: converted, scale = 0 } = column;
    if (logical?.type === 'DATE' || converted === 'DATE')
      return [[name, (value) => (value instanceof Date ? value.toISOString().slice(0, 10) : value)]];
    if (logical?.type === 'DECIMAL' || converted === 'DECIMAL')
      return [[name, (value) => (typeof value === 'number' ? Number(value.toFixed(scale)) : value)]];
    // One without a zone is a time on somebody's clock.
    if (logical?.type === 'TIMESTAMP' && !logical.isAdjustedToUTC)
      return [[name, (value) => (value instanceof Date ? value.toISOString().slice(0, 19).replace('T', ' ') : value)]];
    return [];
  });
}
