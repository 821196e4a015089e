import type { PageServerLoad } from './$types';
import { listImports } from '$lib/server/repositories/imports';
import { instantsAround } from '$lib/server/repositories/slices';
import { listUnderlyings } from '$lib/server/repositories/underlyings';

export const load: PageServerLoad = async ({ locals, depends }) => {
  depends('umwelt:underlyings');
  const { database } = locals.connection;
  const underlyings = await listUnderlyings(database);
  const stored = await Promise.all(
    underlyings.map(async ({ id, ...underlying }) => {
      const around = await instantsAround(database, id, undefined, underlying.zone);
      return {
        ...underlying,
        first: around?.first.toISOString() ?? null,
        latest: around?.latest.toISOString() ?? null,
      };
    }),
  );
  const imports = await listImports(database, locals.owner);
  return {
    stored,
    imports: imports.map((i) => ({
      id: i.id,
      fileName: i.fileName,
      rows: i.rows,
      slices: i.slices,
      createdAt: i.createdAt.toISOString(),
    })),
  };
};
