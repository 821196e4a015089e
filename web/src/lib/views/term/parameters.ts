import { z } from 'zod';
import { comparisons } from '../../api/comparison.ts';
import { listText } from '../../api/list-text.ts';
import { workingsId } from '../../api/workings-id.ts';

/** Lines that may be drawn beside the level. */
export const TERM_LINES = ['forward', 'wings', 'index', 'realized'] as const;
export type TermLine = (typeof TERM_LINES)[number];

/** What Term's address carries beside the shared context. */
export const termParameters = z.object({
  /** Lines beside the level */
  lines: listText(z.enum(TERM_LINES)).default(['forward', 'realized']).catch(['forward', 'realized']),
  /** What is held beside the shown underlying */
  compare: comparisons,
  workings: workingsId,
});
