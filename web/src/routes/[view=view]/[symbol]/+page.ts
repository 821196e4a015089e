import type { PageLoad } from './$types';
import { pageData } from '$lib/state/page-data';

export const load: PageLoad = ({ data }) => pageData(data.pictureText);
