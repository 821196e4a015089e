import { z } from 'zod';
import { comparisons } from '../../api/comparison.ts';
import { expiryDate } from '../../api/quantity.ts';
import { workingsId } from '../../api/workings-id.ts';
import { DISTANCES, SURFACE_VALUES } from '../../theory/index.ts';

export const SKEW_AXES = ['strike', 'distance', 'moneyness', 'deviations', 'delta'] as const;
export type SkewAxis = (typeof SKEW_AXES)[number];
export const SKEW_PANELS = ['smiles', 'distance', 'others', 'year', 'replay', 'surface'] as const;
export const SURFACE_DRAWINGS = ['hills', 'heatmap'] as const;
export type SkewPanel = (typeof SKEW_PANELS)[number];

/** What Skew's address carries beside the shared context. */
export const skewParameters = z.object({
  /** Smiles now, put and call side by side, beside others, the past year, the smile through it, or the surface */
  skew: z.enum(SKEW_PANELS).default('smiles').catch('smiles'),
  /** How the same distance both ways is counted */
  by: z.enum(DISTANCES).default('percent').catch('percent'),
  /** Absent means what suits the expiries shown, see shownAxis */
  axis: z.enum(SKEW_AXES).optional().catch(undefined),
  /** What is held beside the shown underlying */
  compare: comparisons,
  /** Session at which the replay stands; absent means the last */
  session: expiryDate.optional().catch(undefined),
  /** What the surface shows, as hills or as a heatmap, and from where, in degrees */
  height: z.enum(SURFACE_VALUES).default('volatility').catch('volatility'),
  drawn: z.enum(SURFACE_DRAWINGS).default('hills').catch('hills'),
  turn: z.coerce.number().int().min(-180).max(180).default(-34).catch(-34),
  tilt: z.coerce.number().int().min(3).max(80).default(29).catch(29),
  workings: workingsId,
});
