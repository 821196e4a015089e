import { stringify } from 'csv-stringify/sync';

/** A list as JSON under its name, or as CSV when the request asks for it (?format=csv or Accept: text/csv). */
export function listResponse(request: Request, url: URL, name: string, rows: Record<string, unknown>[]): Response {
  if (!wantsCsv(request, url)) return Response.json({ [name]: rows });
  const header = rows.length > 0 ? Object.keys(rows[0]) : [];
  const text = stringify(rows, { header: true, columns: header, escape_formulas: true });
  return new Response(text, { headers: { 'content-type': 'text/csv; charset=utf-8' } });
}

/** Whether a list is asked for as CSV, by its address or by what the client accepts. */
export function wantsCsv(request: Request, url: URL): boolean {
  return url.searchParams.get('format') === 'csv' || request.headers.get('accept') === 'text/csv';
}
