import { z } from 'zod';
import { JsonValue } from '../core/plain/jsonValue.ts';

/** A finding with the place where it shows. */
export const LocatedFinding = z.strictObject({
  finding: z.string(),
  /** The finding, with the way in which it is reported where there are several: `offset:unwanted`. */
  message: z.string(),
  /** What its words are made from. */
  data: z.looseObject({}),
  severity: z.enum(['error', 'warning']),
  /** Absent where a file could not be read as an entry. */
  entry: z.string().optional(),
  file: z.string(),
  line: z.int(),
  column: z.int(),
  /** Where the value ends: the place after its last character. */
  end: z.strictObject({ line: z.int(), column: z.int() }).optional(),
  /** JSON Pointer (RFC 6901) inside the entry. */
  pointer: z.string(),
  says: z.string(),
  value: JsonValue.optional(),
  limit: JsonValue.optional(),
  /** The address of the field that asks for it, where that is a field of another type. */
  by: z.string().optional(),
  /** Where in the model the expression stands that asks for it: `model/types/lighthouse.yaml:40:5`. */
  origin: z.string().optional(),
  mend: z.string(),
  /** What a machine can do about it: put another value there. */
  fix: z.strictObject({ set: JsonValue }).optional(),
});
export type LocatedFinding = z.output<typeof LocatedFinding>;
