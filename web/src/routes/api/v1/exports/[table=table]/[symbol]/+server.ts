import { create } from 'content-disposition';
import type { RequestHandler } from './$types';
import { tableExport, tableKind } from '$lib/api/table-export';
import { byteStream } from '$lib/server/http/byte-stream';
import { issueDetails } from '$lib/api/issue-details';
import { problem } from '$lib/server/http/problem';
import { exportTable } from '$lib/server/exports/export-table';

const TYPES = {
  csv: 'text/csv; charset=utf-8',
  jsonl: 'application/jsonl; charset=utf-8',
  parquet: 'application/vnd.apache.parquet',
  ics: 'text/calendar; charset=utf-8',
};

export const GET: RequestHandler = async ({ locals, params, url }) => {
  const query = tableExport.safeParse(Object.fromEntries(url.searchParams));
  if (!query.success) return problem(400, 'invalid-request', { errors: issueDetails(query.error) });
  const table = tableKind.parse(params.table);
  const file = await exportTable(locals.connection.database, table, params.symbol, query.data);
  if (!file.ok) {
    if (file.reason === 'not-a-calendar') {
      const errors = [{ path: 'format', message: 'only events come as iCalendar' }];
      return problem(400, 'invalid-request', { errors });
    }
    const detail =
      file.reason === 'no-underlying' ? `no underlying ${params.symbol}` : `no ${table} of ${params.symbol} are stored`;
    return problem(404, 'not-found', { detail });
  }
  return new Response(byteStream(file.bytes), {
    headers: {
      'content-type': TYPES[query.data.format],
      'content-disposition': create(file.fileName),
    },
  });
};
