import type { LayoutServerLoad } from './$types';
import { isOpen } from '$lib/server/processes/environment';
import { withoutId } from '$lib/server/services/stored-underlyings';
import { knownUnderlyings } from '$lib/server/services/stored-moments';

export const load: LayoutServerLoad = async ({ locals, depends }) => {
  depends('umwelt:underlyings');
  const rows = await knownUnderlyings(locals.connection.database);
  return { underlyings: rows.map(withoutId), isOpen: isOpen() };
};
