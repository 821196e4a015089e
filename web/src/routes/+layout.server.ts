import type { LayoutServerLoad } from './$types';
import { listUnderlyings } from '$lib/server/repositories/underlyings';

export const load: LayoutServerLoad = async ({ locals, depends }) => {
  depends('umwelt:underlyings');
  const rows = await listUnderlyings(locals.connection.database);
  return { underlyings: rows.map(({ id: _id, ...underlying }) => underlying) };
};
