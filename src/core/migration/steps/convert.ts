import { z } from 'zod';
import { keyOfField } from '../../definition/fieldName.ts';
import { asks, converter } from '../../model/convertValue.ts';
import { readField } from '../../model/readField.ts';
import { withKey } from '../../plain/json.ts';
import {
  addressed,
  compileFill,
  fieldOf,
  fillShape,
  linkedField,
  obeys,
  placesBefore,
  withFieldsBeside,
} from '../fill.ts';
import { defineStep, StepRefused } from '../step.ts';

/** Turns a field into one of another kind, or one value into many and back, carrying values where they can be carried. */
export const convert = defineStep({
  verb: 'convert',
  about:
    'Turns a field into one of another kind, or one into many and back. `value` or `cel` is for values that cannot be carried.',
  shape: {
    convert: z.string().describe('The address of a field.'),
    field: z.json().describe('The field as it is afterwards.'),
    ...fillShape,
  },
  model: (step, model) => {
    const { type: typeName, field } = addressed(step.convert, 'convert', ['field']);
    fieldOf(model, typeName, field, 'convert');
    const { field: definition, mistakes } = readField(step.field);
    if (!definition)
      throw new StepRefused(
        mistakes[0]?.says ?? 'the field cannot be read',
        mistakes[0]?.mend ?? 'Correct it.',
        'field',
      );

    return withFieldsBeside(model, { type: typeName, field }, 'convert', (siblings, key) =>
      withKey(siblings, key, definition),
    );
  },
  entries: (step, { before, after, orderOf }) => {
    const address = addressed(step.convert, 'convert', ['field']);
    const was = linkedField(before, address.type, address.field);
    const is = linkedField(after, address.type, address.field);
    const otherwise = compileFill(step, is.field, was.type, after);
    const key = keyOfField(address.field);
    const carry = converter(was.field, is.field, after.context);
    const places = placesBefore(orderOf(address.type, address.field), address.field);

    return (draft) => {
      if (draft.type !== address.type) return;
      for (const holder of draft.holders(was.type, address.field)) {
        const value = holder.valueOf(was.field);
        const carried = value === undefined ? { value: undefined, lost: [] } : carry(value);
        const isMissing = carried.value === undefined && asks(is.field, draft.status) && !asks(was.field, draft.status);
        const isUnfit = carried.value !== undefined && !obeys(carried.value, is.field, after);
        const fallback = carried.lost.length > 0 || isMissing || isUnfit ? otherwise?.(draft, holder) : undefined;
        // What is said for values that cannot be carried stands for the value as a whole.
        if (fallback !== undefined) {
          holder.replace(key, fallback, carried.lost[0]?.why ?? 'it does not fit the converted field', places);
          continue;
        }
        for (const { item, why } of carried.lost) holder.note([key], item, why);
        // What counts as none before and after stays as it stands.
        if (value === undefined && carried.value === undefined) continue;
        if (carried.value === undefined) holder.remove(key);
        else holder.set(key, carried.value, places);
      }
    };
  },
});
