import type { RequestEvent, RequestHandler } from '@sveltejs/kit';
import type { z } from 'zod';
import type { Route } from '../../api/contract/route.ts';
import { issueDetails } from '../../api/issue-details.ts';
import { csvText } from '../exports/csv-text.ts';
import { problem } from '../http/problem.ts';
import { readJson } from '../http/read-json.ts';
import { statusOf } from './document.ts';

/** What was asked, checked by the route's schemas, with the request itself. */
export interface Asked<P extends z.ZodObject, Q extends z.ZodObject, B extends z.ZodType> {
  parameters: z.output<P>;
  query: z.output<Q>;
  body: z.output<B>;
  event: RequestEvent;
}

/** A handler with the definition that it was made of. */
export type BoundHandler = RequestHandler & { route: Route };

/**
 * The handler of a route: checks what is asked by its schemas, and sends what is answered as JSON or, of a list, as CSV where that
 * is asked for. What is a response already goes out as it is: a problem, a file, or text that was made elsewhere.
 */
export function handle<P extends z.ZodObject, Q extends z.ZodObject, B extends z.ZodType, A extends z.ZodType>(
  route: Route<P, Q, B, A>,
  answer: (asked: Asked<P, Q, B>) => Response | z.input<A> | Promise<Response | z.input<A>>,
): BoundHandler {
  const handler: RequestHandler = async (event) => {
    const { searchParams } = event.url;
    const said: Record<string, unknown> = Object.fromEntries(searchParams);
    for (const name of route.repeated ?? []) if (searchParams.has(name)) said[name] = searchParams.getAll(name);
    const parameters = route.parameters.safeParse(event.params);
    // An address that no parameter fits is none.
    if (!parameters.success)
      return problem(404, 'not-found', {
        detail: issueDetails(parameters.error)
          .map((e) => e.message)
          .join('; '),
      });
    const query = route.query.safeParse(said);
    if (!query.success) return problem(400, 'invalid-request', { errors: issueDetails(query.error) });
    let body: z.output<B> = undefined as z.output<B>;
    if (route.body && !route.bodyTypes && !route.isBodyReadApart) {
      const read = await readJson(event.request, route.body);
      if (!read.ok) return read.response;
      body = read.data;
    }
    const result = await answer({ parameters: parameters.data, query: query.data, body, event });
    if (result instanceof Response) return result;
    if (result === undefined) return new Response(null, { status: 204 });
    if (route.rows && wantsCsv(event)) return csvResponse(route.rows(result as z.output<A>));
    return Response.json(result, { status: statusOf(route) });
  };
  return Object.assign(handler, { route: route as unknown as Route });
}

/** A JSON text that was made elsewhere. */
export function jsonText(text: string): Response {
  return new Response(text, { headers: { 'content-type': 'application/json' } });
}

function wantsCsv({ request, url }: RequestEvent): boolean {
  return url.searchParams.get('format') === 'csv' || request.headers.get('accept') === 'text/csv';
}

function csvResponse(rows: readonly object[]): Response {
  return new Response(csvText(rows), { headers: { 'content-type': 'text/csv; charset=utf-8' } });
}
