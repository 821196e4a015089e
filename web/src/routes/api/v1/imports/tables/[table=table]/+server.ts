import type { RequestHandler } from './$types';
import { tableImport, tableKind } from '$lib/schema/table-export';
import { issueDetails, problem, tooLarge } from '$lib/server/http/problem';
import { readBytes } from '$lib/server/http/read-text';
import { importTable } from '$lib/server/services/import-table';

/** The file is the body: CSV, JSON lines, Parquet or, for events, iCalendar. Chains have an import of their own. */
export const POST: RequestHandler = async ({ locals, params, request, url }) => {
  const table = tableKind.exclude(['chains']).safeParse(params.table);
  if (!table.success) return problem(404, 'not-found', { detail: 'chains are sent to /imports/chains' });
  const options = tableImport.safeParse(Object.fromEntries(url.searchParams));
  if (!options.success) return problem(400, 'invalid-request', { errors: issueDetails(options.error) });
  const bytes = await readBytes(request);
  if (!bytes) return tooLarge();
  const outcome = await importTable(locals.connection.database, locals.owner, table.data, bytes, options.data);
  if (outcome.ok) return Response.json({ table: table.data, rows: outcome.rows, underlyings: outcome.underlyings });
  const [first] = outcome.problems;
  const where = first.row === 0 ? 'in the file as a whole' : `in row ${first.row}`;
  return problem(422, 'import-rejected', {
    detail: `${outcome.problems.length} wrong, the first ${where}: ${first.column} ${first.remedy}.`,
    more: { reason: 'bad-rows', problems: outcome.problems },
  });
};
