import type { RequestHandler } from './$types';

/** The process answers; whether it can serve says `/ready`. */
export const GET: RequestHandler = () => Response.json({ status: 'ok' }, { headers: { 'cache-control': 'no-store' } });
