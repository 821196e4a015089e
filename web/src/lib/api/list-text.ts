import { z } from 'zod';

/** A list as one parameter of an address, its items apart by commas. */
export const listText = <T extends z.ZodType<unknown, string>>(item: T) =>
  z
    .string()
    .transform((text) => text.split(',').filter((part) => part !== ''))
    .pipe(z.array(item).max(200));
