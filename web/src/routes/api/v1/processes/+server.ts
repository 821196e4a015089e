import type { RequestHandler } from './$types';
import { listResponse } from '$lib/server/http/list-response';
import { listProcesses } from '$lib/server/repositories/processes';

/** The application's processes on any machine. */
export const GET: RequestHandler = async ({ locals, request, url }) =>
  listResponse(request, url, 'processes', await listProcesses(locals.connection.database));
