import { error } from '@sveltejs/kit';
import type { PageServerLoad } from './$types';
import { parseContext } from '$lib/schema/as-of-context';
import { loadPicture } from '$lib/server/services/picture';

export const load: PageServerLoad = async ({ locals, params, url }) => {
  // Only these parameters change what is derived; the others are of the view alone and must not load it anew.
  const wanted = new URLSearchParams();
  for (const name of ['asOf', 'forwardSource', 'restored']) {
    const value = url.searchParams.get(name);
    if (value !== null) wanted.set(name, value);
  }
  const result = await loadPicture(locals.connection.database, params.symbol, parseContext(wanted));
  if (result.ok) return { picture: result.picture };
  if (result.reason === 'no-quotes') error(404, `No quotes of ${params.symbol} are stored. Import a chain under Data.`);
  error(404, `No underlying is called ${params.symbol}. Press / to search what is stored.`);
};
