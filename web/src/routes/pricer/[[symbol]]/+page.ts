import type { PageLoad } from './$types';
import { pageData } from '$lib/state/page-data';

export const load: PageLoad = ({ data }) =>
  data.pictureText === undefined ? { picture: undefined } : pageData(data.pictureText);
