import { z } from 'zod';
import { CHAIN_FILTERS } from './chain-filter.ts';
import { workingsId } from '../../api/workings-id.ts';

export const CHAIN_TABLES = ['quotes', 'spreads', 'trades'] as const;

/** Where a trade met its quote. */
export const TRADE_SIDES = ['any', 'at bid', 'between', 'at offer'] as const;

export const CHAIN_LAYOUTS = ['out', 'both', 'list'] as const;

/** What Chain's address carries beside the shared context. */
export const chainParameters = z.object({
  /** Quotes of the expiry in focus, listed spreads, or the trades of the session */
  table: z
    .preprocess(
      // As addresses of before call it.
      (table) => (table === 'prints' ? 'trades' : table),
      z.enum(CHAIN_TABLES).default('quotes'),
    )
    .catch('quotes'),
  /** One side of each strike, both beside each other, or all options in one list */
  sides: z.enum(CHAIN_LAYOUTS).default('out').catch('out'),
  /** Which quotes are shown */
  show: z.enum(CHAIN_FILTERS).default('all').catch('all'),
  /** Which trades are shown: where they met their quote, of at least so many contracts, as far from the fit at least (points) */
  met: z.enum(TRADE_SIDES).default('any').catch('any'),
  size: z.coerce.number().int().min(0).max(1e9).default(0).catch(0),
  apart: z.coerce.number().min(0).max(1000).default(0).catch(0),
  workings: workingsId,
});
