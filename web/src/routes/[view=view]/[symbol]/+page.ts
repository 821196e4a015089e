import type { PageLoad } from './$types';
import { pageData } from '$lib/market';

export const load: PageLoad = ({ data }) => pageData(data.pictureText);
