import type { RequestHandler } from './$types';
import { clearRefusals } from '$lib/server/repositories/imports';

/** Takes refused files off the list of imports. */
export const DELETE: RequestHandler = async ({ locals }) =>
  Response.json({ cleared: await clearRefusals(locals.connection.database, locals.owner) });
