import { create } from 'content-disposition';
import { exportRoute } from '$lib/api/contract/files';
import { handle } from '$lib/server/api/handle';
import { byteStream } from '$lib/server/http/byte-stream';
import { problem } from '$lib/server/http/problem';
import { exportTable } from '$lib/server/exports/export-table';

const TYPES = {
  csv: 'text/csv; charset=utf-8',
  jsonl: 'application/jsonl; charset=utf-8',
  parquet: 'application/vnd.apache.parquet',
  ics: 'text/calendar; charset=utf-8',
};

export const GET = handle(exportRoute, async ({ parameters: { table, symbol }, query, event }) => {
  const file = await exportTable(event.locals.connection.database, table, symbol, query);
  if (!file.ok) {
    if (file.reason === 'not-a-calendar') {
      const errors = [{ path: 'format', message: 'only events come as iCalendar' }];
      return problem(400, 'invalid-request', { errors });
    }
    const detail = file.reason === 'no-underlying' ? `no underlying ${symbol}` : `no ${table} of ${symbol} are stored`;
    return problem(404, 'not-found', { detail });
  }
  return new Response(byteStream(file.bytes), {
    headers: { 'content-type': TYPES[query.format], 'content-disposition': create(file.fileName) },
  });
});
