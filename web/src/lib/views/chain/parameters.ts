import { z } from 'zod';
import { workingsId } from '../../api/workings-id.ts';
import { CHAIN_SIDES } from '../../theory/index.ts';

export const CHAIN_TABLES = ['quotes', 'spreads', 'prints'] as const;

/** What Chain's address carries beside the shared context. */
export const chainParameters = z.object({
  /** Quotes of the expiry in focus, listed spreads, or the prints of the session */
  table: z.enum(CHAIN_TABLES).default('quotes').catch('quotes'),
  sides: z.enum(CHAIN_SIDES).default('out').catch('out'),
  workings: workingsId,
});
