import { z } from 'zod';
import { isList, type Json, withKey } from '../../json.ts';
import type { Field, Model } from '../../model/link.ts';
import { readField } from '../../model/read.ts';
import { addressed, compileFill, fieldOf, fillShape, linkedField, placesBefore, typeOf } from '../fill.ts';
import { defineStep, StepRefused } from '../step.ts';

/** Turns a field into one of another kind, or one value into many and back, carrying values where they can be carried. */
export const convert = defineStep({
  verb: 'convert',
  about:
    'Turns a field into one of another kind, or one into many and back. `value` or `cel` is for values that cannot be carried.',
  shape: { convert: z.string(), field: z.json(), ...fillShape },
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
  entries: (step, { before, after }) => {
    const address = addressed(step.convert, 'convert', ['field']);
    const was = linkedField(before, address.type, address.field);
    const is = linkedField(after, address.type, address.field);
    const otherwise = compileFill(step, is.field, was.type, after);
    const carry = carrier(was.field, is.field, after);
    const places = placesBefore(is.type, address.field);
    return (draft) => {
      if (draft.type !== address.type) return;
      const value = draft.get(address.field);
      if (value === undefined) return;
      const carried = carry(value);
      const fallback = carried.lost.length > 0 ? otherwise?.(draft) : undefined;
      for (const { item, why } of carried.lost)
        draft.losses.push({
          path: [address.field],
          value: item,
          why,
          ...(fallback === undefined ? {} : { becomes: fallback }),
        });
      const result = fallback ?? carried.value;
      if (result === undefined || result === null) draft.remove(address.field);
      else draft.set(address.field, result, places);
    };
  },
});

interface Outcome {
  readonly value: Json | undefined;
  readonly lost: readonly { readonly item: Json; readonly why: string }[];
}

/** How whole values get from one definition of a field to another. */
function carrier(was: Field, is: Field, after: Model): (value: Json) => Outcome {
  const convertOne = was.kind.name === is.kind.name ? undefined : is.kind.from[was.kind.name];
  if (was.kind.name !== is.kind.name && !convertOne)
    return (value) => ({
      value: undefined,
      lost: [{ item: value, why: `${was.kind.name} cannot become ${is.kind.name}` }],
    });
  return (value) => {
    const lost: { item: Json; why: string }[] = [];
    const carried = (isList(value) ? value : [value]).flatMap((item) => {
      const result = convertOne ? convertOne(item, is.options, after.around) : { value: item };
      if ('value' in result) return [result.value];
      lost.push({ item, why: result.lost });
      return [];
    });
    if (is.common.many) return { value: carried.length > 0 ? carried : undefined, lost };
    for (const item of carried.slice(1)) lost.push({ item, why: 'the field holds one value, and the first is kept' });
    return { value: carried[0], lost };
  };
}
