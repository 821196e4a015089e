import { symbolPart } from '@umwelt/market/symbol';
import { redirect } from '@sveltejs/kit';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ parent }) => {
  const { underlyings } = await parent();
  redirect(307, underlyings.length > 0 ? `/skew/${symbolPart(underlyings[0].symbol)}` : '/data');
};
