import { z } from 'zod';
import { withKey } from '../../json.ts';
import { asks, carrier } from '../../model/carry.ts';
import { readField } from '../../model/readField.ts';
import { addressed, compileFill, fieldOf, fillShape, linkedField, obeys, placesBefore, typeOf } from '../fill.ts';
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
    const type = typeOf(model, typeName, 'convert');
    const read = readField(step.field);
    if (!read.field)
      throw new StepRefused(
        read.mistakes[0]?.says ?? 'the field cannot be read',
        read.mistakes[0]?.mend ?? 'Correct it.',
        'field',
      );
    return {
      ...model,
      types: withKey(model.types, typeName, { ...type, fields: withKey(type.fields, field, read.field) }),
    };
  },
  entries: (step, { before, after, orderOf }) => {
    const address = addressed(step.convert, 'convert', ['field']);
    const was = linkedField(before, address.type, address.field);
    const is = linkedField(after, address.type, address.field);
    const otherwise = compileFill(step, is.field, was.type, after);
    const carry = carrier(was.field, is.field, after.around);
    const places = placesBefore(orderOf(address.type), address.field);
    return (draft) => {
      if (draft.type !== address.type) return;
      const value = draft.get(address.field);
      const carried = value === undefined ? { value: undefined, lost: [] } : carry(value);
      const isMissing = carried.value === undefined && asks(is.field, draft.status) && !asks(was.field, draft.status);
      const isUnfit = carried.value !== undefined && !obeys(carried.value, is.field, after);
      const fallback = carried.lost.length > 0 || isMissing || isUnfit ? otherwise?.(draft) : undefined;
      const becomes = fallback === undefined ? {} : { becomes: fallback };
      for (const { item, why } of carried.lost)
        draft.losses.push({ path: [address.field], value: item, why, ...becomes });
      if (isUnfit && fallback !== undefined && value !== undefined)
        draft.losses.push({ path: [address.field], value, why: 'it does not fit the converted field', ...becomes });
      const result = fallback ?? carried.value;
      if (result === undefined || result === null) draft.remove(address.field);
      else draft.set(address.field, result, places);
    };
  },
});
