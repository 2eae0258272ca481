import { z } from 'zod';

/** An option that is on or off; off is the normal form of absence. */
export const flag = z
  .boolean()
  .transform((on) => on || undefined)
  .optional();
