import { z } from 'zod';
import { CHAIN_FILE_FORMATS } from '@umwelt/market/chain-format';
import { instantText } from './quantity.ts';

/** What of an underlying's stored chains is written to a file, and how. */
export const chainExport = z.object({
  format: z.enum(CHAIN_FILE_FORMATS).default('csv'),
  /** The stored instant at or before this one; absent means the latest */
  asOf: instantText.optional(),
  /** One instant, or all that are stored */
  scope: z.enum(['instant', 'all']).default('instant'),
});
