import { z } from 'zod';

/** Identifier of the figure that Workings explains, as an address carries it. */
export const workingsId = z.string().max(120).optional().catch(undefined);
