import * as files from './files.ts';
import * as pricing from './pricing.ts';
import type { Route } from './route.ts';
import * as structures from './structures.ts';
import * as underlyings from './underlyings.ts';
import * as views from './views.ts';
import * as work from './work.ts';

/** All routes of the API. */
export const ROUTES: readonly Route[] = [work, underlyings, views, pricing, structures, files].flatMap(
  (group) => Object.values(group) as unknown as Route[],
);
