import type { PageLoad } from './$types';
import { pageData } from '$lib/market';

export const load: PageLoad = ({ data }) =>
  data.pictureText === undefined ? { picture: undefined } : pageData(data.pictureText);
