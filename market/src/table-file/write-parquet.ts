import { ByteWriter, ParquetWriter, schemaFromColumnData } from 'hyparquet-writer';
import { type ColumnType, columnsOf, type TableKind, type TableRecord } from '../table-format/index.ts';

const PARQUET_TYPES = { text: 'STRING', number: 'DOUBLE', date: 'STRING', instant: 'TIMESTAMP' } as const;

/** Rows that are encoded together: what the writing of a file holds in memory at a time. */
export const ROWS_A_GROUP = 20_000;

/** A row group as it stands in its file; it may come from another thread. */
export interface EncodedRows {
  bytes: Uint8Array;
  /** What the end of the file says of it, with offsets from the file's beginning */
  groups: ParquetWriter['row_groups'];
  indexes: ParquetWriter['pendingIndexes'];
}

/**
 * Encodes rows as one row group of a Parquet file; instants are kept to the millisecond.
 * @param start where in the file it will stand, bytes
 */
export function encodeRows(kind: TableKind, records: readonly TableRecord[], start: number): EncodedRows {
  const columnData = columnsOf(kind).map(({ name, type }) => ({
    name,
    data: records.map((record) => parquetValue(record[name] ?? null, type)),
  }));
  const { writer, file } = writerAt(kind, start);
  void file.write({ columnData, rowGroupSize: ROWS_A_GROUP });
  return { bytes: writer.getBytes().slice(), groups: file.row_groups, indexes: file.pendingIndexes };
}

/**
 * Writes a Parquet file a row group at a time.
 * @param pieces what each row group is made of
 * @param encode makes the row group of a piece: {@link encodeRows}, here or in another thread
 */
export async function* writeParquet<Piece>(
  kind: TableKind,
  pieces: AsyncIterable<Piece> | Iterable<Piece>,
  encode: (piece: Piece, start: number) => EncodedRows | Promise<EncodedRows>,
): AsyncGenerator<Uint8Array> {
  const beginning = new TextEncoder().encode('PAR1');
  yield beginning;
  let end = beginning.byteLength;
  const groups: EncodedRows['groups'] = [];
  const indexes: EncodedRows['indexes'] = [];
  for await (const piece of pieces) {
    const encoded = await encode(piece, end);
    end += encoded.bytes.byteLength;
    groups.push(...encoded.groups);
    indexes.push(...encoded.indexes);
    yield encoded.bytes;
  }
  const { writer, file } = writerAt(kind, end);
  file.row_groups = groups;
  file.num_rows = groups.reduce((sum, group) => sum + group.num_rows, 0n);
  file.pendingIndexes = indexes;
  void file.finish();
  yield writer.getBytes();
}

/** A writer that goes on at a place of a file, whose beginning is written elsewhere. */
function writerAt(kind: TableKind, start: number): { writer: ByteWriter; file: ParquetWriter } {
  const schema = schemaFromColumnData({
    columnData: columnsOf(kind).map(({ name, type }) => ({
      name,
      type: PARQUET_TYPES[type],
      nullable: true,
      data: [],
    })),
  });
  const writer = new ByteWriter();
  const file = new ParquetWriter({ writer, schema });
  writer.index = 0;
  writer.offset = start;
  return { writer, file };
}

function parquetValue(value: string | number | null, type: ColumnType): string | number | Date | null {
  return value !== null && type === 'instant' ? new Date(value) : value;
}
