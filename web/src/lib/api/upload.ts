import { z } from 'zod';

/** A file that was sent, and what is being done with it. */
export const upload = z
  .object({
    id: z.uuid(),
    bytes: z.number(),
    stage: z.enum(['received', 'reading', 'storing']),
    /** Of the stage, 0 to 1 */
    share: z.number(),
    rows: z.number(),
  })
  .meta({ id: 'Upload' });
export type Upload = z.infer<typeof upload>;
