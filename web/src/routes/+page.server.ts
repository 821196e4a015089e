import { symbolPart } from '@umwelt/market/symbol';
import { redirect } from '@sveltejs/kit';
import { FIRST_VIEW } from '$lib/shell/switch-underlying';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ parent }) => {
  const { underlyings } = await parent();
  redirect(307, underlyings.length > 0 ? `/${FIRST_VIEW}/${symbolPart(underlyings[0].symbol)}` : '/data');
};
