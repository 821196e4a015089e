import { inject } from 'vitest';
import type { RunningProcess } from '../running-application.ts';

/** Address of the application that is asked. */
export const address = inject('address');
/** Address of its database. */
export const database = inject('database');

/** Asks the application for a path below its address; a value as body is sent as JSON, text and bytes as they are. */
export function ask(
  path: string,
  o: { method?: string; body?: unknown; headers?: Record<string, string>; signal?: AbortSignal } = {},
): Promise<Response> {
  const isPlain = o.body === undefined || typeof o.body === 'string' || o.body instanceof Uint8Array;
  const headers = isPlain ? o.headers : { 'content-type': 'application/json', ...o.headers };
  const body = isPlain ? (o.body as BodyInit | undefined) : JSON.stringify(o.body);
  return fetch(`${address}${path}`, {
    method: o.method ?? (body === undefined ? 'GET' : 'POST'),
    headers,
    body,
    signal: o.signal,
  });
}

/** The application's processes besides supervisor and database. */
export async function processes(): Promise<RunningProcess[]> {
  return ((await (await ask('/api/v1/processes')).json()) as { processes: RunningProcess[] }).processes;
}
