import type { PageServerLoad } from './$types';
import { importsOf } from '$lib/server/imports/list-imports';
import { storedData } from '$lib/server/services/stored-data';

export const load: PageServerLoad = async ({ locals, depends }) => {
  depends('umwelt:underlyings');
  const { database } = locals.connection;
  const [stored, imports] = await Promise.all([storedData(database), importsOf(database, locals.owner)]);
  return { ...stored, imports };
};
