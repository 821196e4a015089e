import type { z } from 'zod';
import { troubleOf, ApiTrouble } from './trouble.ts';
import { type Route, routeAddress } from '../contract/route.ts';

/** What is asked of a route; a query as an address carries it. */
export interface Asking<P extends z.ZodObject, Q extends z.ZodObject, B extends z.ZodType> {
  parameters?: z.input<P>;
  query?: URLSearchParams | Partial<Record<keyof z.input<Q> & string, string | number>>;
  body?: z.input<B>;
  signal?: AbortSignal;
  /** Entity tag of what is meant: it is refused where it was changed meanwhile */
  ifMatch?: string;
  /** Another than the page's own, as while a page is rendered */
  fetch?: typeof fetch;
  /** Takes the answer as it is: of a large one that our own server made, which is of the same build */
  isUnchecked?: boolean;
}

/**
 * Asks our own API, by a route's definition.
 * @returns the answer, checked by its schema
 * @throws ApiTrouble in words; what `signal` aborts throws as fetch does
 */
export async function ask<P extends z.ZodObject, Q extends z.ZodObject, B extends z.ZodType, A extends z.ZodType>(
  route: Route<P, Q, B, A>,
  o: Asking<P, Q, B> = {},
): Promise<z.output<A>> {
  const response = await send(route, o);
  if (response.status === 204) return undefined as z.output<A>;
  const answer: unknown = await response.json();
  return o.isUnchecked ? (answer as z.output<A>) : route.answer.parse(answer);
}

/** Asks a route whose answer is a file. @throws ApiTrouble */
export async function askFile<P extends z.ZodObject, Q extends z.ZodObject, B extends z.ZodType>(
  route: Route<P, Q, B>,
  o: Asking<P, Q, B> = {},
): Promise<Blob> {
  return (await send(route, o)).blob();
}

/** The address that is asked. */
export function addressOf(
  route: Pick<Route, 'path'>,
  { parameters = {}, query }: { parameters?: Record<string, unknown>; query?: object },
): string {
  const said = new URLSearchParams(query as Record<string, string> | undefined).toString();
  return routeAddress(route.path, parameters) + (said === '' ? '' : `?${said}`);
}

async function send<P extends z.ZodObject, Q extends z.ZodObject, B extends z.ZodType>(
  route: Pick<Route, 'method' | 'path'>,
  o: Asking<P, Q, B>,
): Promise<Response> {
  const { parameters = {}, query, body, signal, ifMatch, fetch: fetching = fetch } = o;
  const headers: Record<string, string> = {};
  if (body !== undefined) headers['content-type'] = 'application/json';
  if (ifMatch !== undefined) headers['if-match'] = ifMatch;
  const response = await fetching(addressOf(route, { parameters, query }), {
    method: route.method.toUpperCase(),
    signal,
    headers,
    ...(body !== undefined && { body: JSON.stringify(body) }),
  }).catch((error: unknown) => {
    if (signal?.aborted) throw error;
    throw new ApiTrouble('the server does not answer; try again', { status: 0 });
  });
  if (response.ok) return response;
  throw troubleOf(response.status, await response.json().catch(() => undefined));
}

/** What went wrong, in words. */
export function troubleText(error: unknown): string {
  return error instanceof Error ? error.message : 'no answer';
}
