import type { ProblemDetail } from '../../api/issue-details.ts';

const TITLES = {
  'invalid-request': 'The request is not as the contract asks',
  'malformed-json': 'The body is not JSON',
  'not-found': 'There is no such thing here',
  'nothing-borrowed': 'No smile is borrowed',
  'too-large': 'The body is larger than allowed',
  'import-rejected': 'The file was not imported; nothing was changed',
  'import-unreadable': 'The file cannot be read as a table',
  'hedge-inconsistent': 'Nothing hedges it',
  'hedge-underdetermined': 'More than one hedge does it',
  forbidden: 'The request may not be made from there',
  conflict: 'What is stored does not allow it',
  gone: 'It is here no more',
  changed: 'It was changed meanwhile',
  'timed-out': 'Nothing more came',
  busy: 'There is too much to do',
  'no-space': 'The disk is full',
  'read-only': 'Nothing can be stored',
  'no-permission': 'Nothing can be stored',
  'database-away': 'The database is away',
  'too-many': 'There are too many',
  internal: 'Something went wrong here',
} as const;
export type ProblemType = keyof typeof TITLES;

const RETRY_SECONDS = '2';

/** Problem document of RFC 9457. `errors` names each field's path. */
export function problem(
  status: number,
  type: ProblemType,
  o: { detail?: string; errors?: ProblemDetail[]; more?: Record<string, unknown> } = {},
): Response {
  const body = { type, title: TITLES[type], status, detail: o.detail, errors: o.errors, ...o.more };
  const headers = new Headers({ 'content-type': 'application/problem+json' });
  // Whoever asks by a program is told when it is worth asking again.
  if (status === 503) headers.set('retry-after', RETRY_SECONDS);
  return new Response(JSON.stringify(body), { status, headers });
}

/** Answer where a symbol is none. */
export function unknownUnderlying(symbol: string): Response {
  return problem(404, 'not-found', { detail: `no underlying ${symbol}` });
}
