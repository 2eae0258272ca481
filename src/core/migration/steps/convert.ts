import { z } from 'zod';
import type { FieldDoc } from '../../definition/field.ts';
import { keyOfField } from '../../definition/fieldName.ts';
import type { Converted } from '../../kinds/kindParts.ts';
import { comesToLack, converter } from '../../model/convertValue.ts';
import { staysAsNone } from '../../model/emptiness.ts';
import type { Field } from '../../model/link.ts';
import { fieldsInside } from '../../model/nestedFields.ts';
import { readField } from '../../model/readField.ts';
import { saySeparator } from '../../model/separators.ts';
import { sayShape } from '../../model/traversal.ts';
import { textReader } from '../../model/writtenTexts.ts';
import { compact, ownValue, withKey } from '../../plain/json.ts';
import { didYouMean } from '../../plain/nearest.ts';
import { list } from '../../plain/words.ts';
import type { Look } from '../../rules/lookUp.ts';
import { otherWriting } from '../../writing/others.ts';
import { compileFill, fillShape, likeShape, obeys, sayFill, sayWritten, writtenShape } from '../fill.ts';
import { defineStep, StepRefused } from '../step.ts';
import { addressed, fieldOf, linkedField, placesBefore, withFieldsBeside } from '../stepFields.ts';

/** Turns a field into one of another kind, or one value into many and back, carrying values where they can be carried. */
export const convert = defineStep({
  verb: 'convert',
  about:
    'Turns a field into one of another kind, or one into many and back. `value` or `cel` is for values that cannot be carried.',
  shape: {
    convert: z.string().describe('The address of a field.'),
    field: z.json().describe('The field as it is afterwards.'),
    split: z
      .union([z.string().min(1), z.array(z.string().min(1)).min(1)])
      .optional()
      .describe('The separator of items if a text becomes a list: ", "; or several: [", ", " and "].'),
    with: z.string().optional().describe('The separator of items if a list becomes one text: ", ".'),
    ...writtenShape,
    by: z
      .string()
      .optional()
      .describe('The field by which a text names the entry that a reference leads to, or the other way: person.name.'),
    inside: z
      .string()
      .optional()
      .describe('The field inside the object that a value becomes, or that is kept of the object: url.'),
    ...fillShape,
    ...likeShape,
  },
  addresses: ['by'],
  answers: ({ field, split, written, by, inside }) => {
    const rivalCount = otherWriting(written, field).length;
    if (rivalCount > 1) return ['yes', 'written', 'value', 'cel'];
    const hasWay = (split ?? written ?? by ?? inside) !== undefined;
    if (hasWay) return ['yes', 'no', 'value', 'cel'];
    return ['yes', 'value', 'cel'];
  },
  say: ({ convert: address, field, split, written, by, inside, ...fill }) => {
    const notes = [
      sayWritten(written),
      split === undefined ? '' : ` Texts are split at ${saySeparator(split)}.`,
      by === undefined ? '' : ` Texts are looked up as \`${by}\`.`,
      inside === undefined ? '' : sayInside(inside, Object(field)),
      fill.value === undefined && fill.cel === undefined ? '' : ` What cannot be carried over gets ${sayFill(fill)}.`,
    ];
    return `\`${address}\` becomes ${sayShape(Object(field))}, and its values are carried over.${notes.join('')}`;
  },
  yes: ({ split, written, by, inside }) => ((split ?? written ?? by ?? inside) === undefined ? 'lose' : 'accept'),
  no: ({ split, written, by, inside, ...rest }) => {
    const [other] = otherWriting(written, rest.field);
    return compact(other ? { ...rest, split, by, inside, written: [...other] } : rest);
  },
  model: (step, model) => {
    const { type: typeName, field } = addressed(step.convert, 'convert', ['field']);
    const { field: definition, mistakes } = readField(step.field);
    if (!definition)
      throw new StepRefused(
        mistakes[0]?.says ?? 'the field cannot be read',
        mistakes[0]?.mend ?? 'Correct it.',
        'field',
      );

    refuseNoPart(step.inside, definition, fieldOf(model, typeName, field, 'convert'));

    return withFieldsBeside(model, { type: typeName, field }, 'convert', (siblings, key) =>
      withKey(siblings, key, definition),
    );
  },
  inverse: ({ convert: text, split, by, inside }, { before }) => {
    const { type, field } = addressed(text, 'convert', ['field']);
    const joint = typeof split === 'string' ? split : split?.[0];
    return [compact({ convert: text, field: fieldOf(before, type, field, 'convert'), with: joint, by, inside })];
  },
  entries: (step, { before, after, orderOf, knownNames }) => {
    const address = addressed(step.convert, 'convert', ['field']);
    const oldPlace = linkedField(before, address.type, address.field);
    const newPlace = linkedField(after, address.type, address.field);
    const otherwise = compileFill(step, newPlace.field, oldPlace.type, { after, knownNames });
    const key = keyOfField(address.field);
    let look: Look | undefined;
    const find = step.by === undefined ? undefined : finder(step.by, oldPlace.field, newPlace.field, () => look);
    const read = step.written && textReader(oldPlace.field, newPlace.field, after.context, step.written);
    const by = { separator: step.split, joint: step.with, inside: step.inside, find, read };
    const carry = converter(oldPlace.field, newPlace.field, after.context, by);
    const places = placesBefore(orderOf(address.type, address.field), address.field);

    return (draft) => {
      if (draft.type !== address.type) return;

      look = draft.look;
      for (const holder of draft.holders(oldPlace.type, address.field)) {
        const value = holder.valueOf(oldPlace.field);
        const carried = value === undefined ? { value: undefined, lost: [] } : carry(value);
        const isMissing =
          carried.value === undefined && comesToLack(oldPlace.field, newPlace.field, { value, status: draft.status });
        const isUnfit = carried.value !== undefined && !obeys(carried.value, newPlace.field, after);
        const fallback = carried.lost.length > 0 || isMissing || isUnfit ? otherwise?.(draft, holder) : undefined;
        // A replacement for values that cannot be converted replaces the whole value.
        if (fallback !== undefined) {
          holder.replace(key, fallback, carried.lost[0]?.why ?? 'it does not fit the converted field', places);
          continue;
        }

        for (const { item, why: reason } of carried.lost) holder.note([key], item, reason);
        const none = value === undefined ? ownValue(holder.keys(), key) : undefined;
        if (
          value === undefined &&
          (none === undefined || staysAsNone(oldPlace.field, newPlace.field, none, after.context))
        )
          continue;
        if (carried.value === undefined) holder.remove(key);
        else holder.set(key, carried.value, places);
      }
    };
  },
});

const sayInside = (inside: string, { kind }: FieldDoc): string => {
  if (kind === 'map') return ` Each value stands under \`${inside}\` in a map.`;
  if (kind === 'object') return ` Each value is the \`${inside}\` of an object.`;
  return ` Of each its \`${inside}\` is kept.`;
};

/** A field that moves into objects or out of them names a field of these objects. @throws {StepRefused} */
function refuseNoPart(inside: string | undefined, ...sides: readonly FieldDoc[]): void {
  if (inside === undefined) return;

  const [holder, ...rest] = sides.filter(({ kind }) => kind === 'object' || kind === 'map');
  if (!holder || rest.length > 0)
    throw new StepRefused(
      'a value becomes an object or a map, or one of these a value, where `inside` is said',
      'Remove `inside`.',
      'inside',
    );

  const fields = Object.keys(fieldsInside(holder));
  if (holder.kind === 'object' && !fields.includes(inside))
    throw new StepRefused(
      `the object has no field \`${inside}\``,
      didYouMean(inside, fields) ?? `It has ${list(fields)}.`,
      'inside',
    );
}

/**
 * Finds the entry that a text names, by the value of a field; or of a reference that becomes a text, that value.
 * @param look facts about other entries, by then.
 */
function finder(
  by: string,
  oldField: Field,
  newField: Field,
  look: () => Look | undefined,
): (text: string) => Converted {
  const address = addressed(by, 'by', ['field']);
  const { types } = newField.kind.pointsAt(newField.options);
  if (types.length > 0)
    return (text) => {
      const entries = look()?.entriesWith(address.type, address.field, text.trim()) ?? [];
      const [entry] = entries;
      if (entry === undefined) return { problem: `no ${address.type} has it as ${address.field}` };
      if (entries.length > 1) return { problem: `${entries.length} entries have it as ${address.field}` };
      const [type, id = ''] = entry.split(/\/(.*)/su);
      return { value: types.length === 1 && types[0] === type ? id : entry };
    };
  if (oldField.kind.pointsAt(oldField.options).types.length === 0)
    throw new StepRefused(
      `\`${newField.address}\` is no reference`,
      'Remove `by`: it is for texts that name entries.',
      'by',
    );
  return (text) => {
    const entry = text.includes('/') ? text : `${address.type}/${text}`;
    const value = look()?.valueOf(entry, address.field);
    if (value === undefined) return { problem: `it has no ${address.field}` };
    return { value };
  };
}
