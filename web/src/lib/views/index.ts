import type { ViewDefinition } from '../shell/view-definition.ts';
import { CHAIN_VIEW } from './chain/definition.ts';
import { DATA_VIEW } from './data/definition.ts';
import { LEVEL_VIEW } from './level/definition.ts';
import { PRICER_VIEW } from './pricer/definition.ts';
import { RANGE_VIEW } from './range/definition.ts';
import { SKEW_VIEW } from './skew/definition.ts';
import { STRUCTURE_VIEW } from './structure/definition.ts';
import { TERM_VIEW } from './term/definition.ts';

/** All views, in the order of the rail. */
export const VIEWS: readonly ViewDefinition[] = [
  LEVEL_VIEW,
  TERM_VIEW,
  SKEW_VIEW,
  CHAIN_VIEW,
  RANGE_VIEW,
  STRUCTURE_VIEW,
  PRICER_VIEW,
  DATA_VIEW,
];
