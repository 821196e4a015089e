import type { PageServerLoad } from './$types';
import { listImports } from '$lib/server/repositories/imports';
import { curveCurrencies } from '$lib/server/repositories/rate-curves';
import { listUnderlyings } from '$lib/server/repositories/underlyings';
import { rejectedQuotes, storedSummary } from '$lib/server/repositories/stored-summary';

export const load: PageServerLoad = async ({ locals, depends }) => {
  depends('umwelt:underlyings');
  const { database } = locals.connection;
  const [stored, imports, quality, currencies, underlyings] = await Promise.all([
    storedSummary(database),
    listImports(database, locals.owner),
    rejectedQuotes(database),
    curveCurrencies(database),
    listUnderlyings(database),
  ]);
  return {
    stored: stored.map((s) => ({
      ...s,
      first: s.first?.toISOString() ?? null,
      latest: s.latest?.toISOString() ?? null,
    })),
    own: underlyings.filter((u) => u.source === 'import').map(({ id: _, ...underlying }) => underlying),
    quality,
    currencies,
    imports: imports.map(({ id, fileName, table, rows, slices, leftOut, undo, refusal, createdAt }) => ({
      id,
      fileName,
      table,
      rows,
      slices,
      leftOut,
      undo,
      refusal,
      createdAt: createdAt.toISOString(),
    })),
  };
};
