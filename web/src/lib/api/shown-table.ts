import { z } from 'zod';

/** A table as it stands on a screen, to become a workbook. */
export const shownTableRequest = z
  .strictObject({
    name: z.string().min(1).max(80),
    header: z.array(z.string().max(200)).max(200),
    rows: z.array(z.array(z.union([z.string().max(2000), z.number(), z.null()])).max(200)).max(20_000),
  })
  .meta({ id: 'ShownTable' });
export type ShownTableRequest = z.infer<typeof shownTableRequest>;
