import type { RequestHandler } from './$types';

export const GET: RequestHandler = async ({ locals }) => {
  await locals.connection.sql`select 1`;
  return Response.json({ status: 'ok' });
};
