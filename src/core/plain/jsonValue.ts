import { z } from 'zod';
import type { Json } from './json.ts';

/** What a value of JSON looks like in a result. */
export const JsonValue: z.ZodType<Json> = z.json();
