import { z } from 'zod';
import { keyOfField } from '../../definition/fieldName.ts';
import { compileCondition, compileFill, fillShape, sayFill } from '../fill.ts';
import { defineStep, StepRefused } from '../step.ts';
import { addressed, fieldOf, linkedField, placesBefore } from '../stepFields.ts';

/** Gives a field a value in the entries that exist: all of them, or those for which a condition holds. */
export const set = defineStep({
  verb: 'set',
  about:
    'Gives a field a value, or one computed by `cel`, in all entries or in those for which `where` holds. null takes the value out.',
  shape: {
    set: z.string().describe('The address of a field.'),
    ...fillShape,
    where: z
      .string()
      .optional()
      .describe('Only where this CEL condition holds, over `entry`, and over `item` for a field inside an object.'),
  },
  say: ({ set: address, where, ...fill }) =>
    `\`${address}\` gets ${sayFill(fill)}${where === undefined ? '' : `, where ${where}`}.`,
  model: (step, model) => {
    const { type, field } = addressed(step.set, 'set', ['field']);
    fieldOf(model, type, field, 'set');
    return model;
  },
  // The old values are not known: replaced ones are listed.
  inverse: () => [],
  entries: (step, { after, orderOf, knownNames }) => {
    const address = addressed(step.set, 'set', ['field']);
    const { type, field } = linkedField(after, address.type, address.field);
    const fill = compileFill(step, field, type, { after, knownNames });
    if (!fill)
      throw new StepRefused(
        'the step says no value',
        'Add `value:` (the same for all) or `cel:` (computed from the entry).',
        'set',
      );

    const key = keyOfField(field.name);
    const concerns = compileCondition(step.where, field.name, type, { knownNames });
    const places = placesBefore(orderOf(address.type, address.field), address.field);

    return (draft) => {
      if (draft.type !== address.type) return;
      for (const holder of draft.holders(type, field.name)) {
        if (concerns(draft, holder)) holder.replace(key, fill(draft, holder), 'the step sets another', places);
      }
    };
  },
});
