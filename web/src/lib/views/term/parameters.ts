import { z } from 'zod';
import { comparisons } from '../../api/comparison.ts';
import { listText } from '../../api/list-text.ts';
import { workingsId } from '../../api/workings-id.ts';

/** Lines that may be drawn beside the level. */
export const TERM_LINES = ['forward', 'wings', 'index', 'realized'] as const;
export type TermLine = (typeof TERM_LINES)[number];

export const TERM_SCALES = ['level', 'month'] as const;
export type TermScale = (typeof TERM_SCALES)[number];

/** What Term's address carries beside the shared context. */
export const termParameters = z.object({
  /** Lines beside the level */
  lines: listText(z.enum(TERM_LINES)).default(['forward', 'realized']).catch(['forward', 'realized']),
  /** Days at which the surface is read beside the fixed ones */
  at: z.coerce.number().int().min(1).max(20_000).optional().catch(undefined),
  /** Levels as they are, or each less its own at 30 days */
  scale: z.enum(TERM_SCALES).default('level').catch('level'),
  /** What is held beside the shown underlying */
  compare: comparisons,
  workings: workingsId,
});
