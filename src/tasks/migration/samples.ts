import { z } from 'zod';
import { compact, pointer } from '../../core/plain/json.ts';
import { JsonValue } from '../../core/plain/jsonValue.ts';
import { type HeldSamples, type StepSample, tellingest } from '../../passes/stepSamples.ts';

/** What a step does to one value of an entry, as an example of its effect on others. */
export const Sample = z.strictObject({
  entry: z.string(),
  pointer: z.string(),
  before: JsonValue.optional(),
  after: JsonValue.optional(),
  movedTo: z.string().optional(),
  /** The address that the entry has then, where it becomes one of another type. */
  becomes: z.string().optional(),
});
export type Sample = z.output<typeof Sample>;

const valuesOfEach = 3;

/** The values that are shown as examples of a step. */
export const samplesOf = (held: HeldSamples | undefined): readonly Sample[] => {
  if (!held) return [];
  return tellingest(held).flatMap(rowsOf);
};

function rowsOf({ entry, changes, becomes }: StepSample): readonly Sample[] {
  if (becomes !== undefined) return [{ entry, pointer: '', becomes }];
  return changes
    .slice(0, valuesOfEach)
    .map(({ path, before, after, movedTo }) =>
      compact({ entry, pointer: pointer(path), before, after, movedTo: movedTo && pointer(movedTo) }),
    );
}
