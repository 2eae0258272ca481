import { z } from 'zod';
import type { FieldDoc } from '../../definition/field.ts';
import { beside, keyOfField } from '../../definition/fieldName.ts';
import { converter } from '../../model/convertValue.ts';
import { readField } from '../../model/readField.ts';
import { partsOfText, saySeparator } from '../../model/separators.ts';
import { textReader } from '../../model/writtenTexts.ts';
import { type Json, ownValue } from '../../plain/json.ts';
import { list } from '../../plain/words.ts';
import { sayWritten, writtenShape } from '../fill.ts';
import { defineStep, StepRefused } from '../step.ts';
import { addressed, fieldOf, linkedField, withFieldsBeside } from '../stepFields.ts';

/** Splits a text into several fields; the last gets the rest. */
export const split = defineStep({
  verb: 'split',
  about: 'Splits the texts of a field into several fields at a separator; the last field gets the rest.',
  shape: {
    split: z.string().describe('The address of a text field.'),
    at: z.string().min(1).describe('The separator of the parts: " ".'),
    into: z.record(z.string(), z.json()).describe('The fields that it becomes, in order: { first: { kind: text } }.'),
    ...writtenShape,
  },
  guess: ({ split: address, into }) => `${address}=${Object.keys(into).join('+')}`,
  answers: () => ['yes', 'no'],
  say: ({ split: address, at: place, into, written }) =>
    `\`${address}\` is split at ${saySeparator(place)} into ${list(Object.keys(into).map((name) => `\`${name}\``))}.${sayWritten(written)}`,
  model: (step, model) => {
    const { type, field } = addressed(step.split, 'split', ['field']);
    const oldField = fieldOf(model, type, field, 'split');
    const into = definitionsOf(step.into, 'into');
    if (oldField.many !== undefined || oldField.localized !== undefined)
      throw new StepRefused(`\`${step.split}\` is not one text alone`, 'Write steps `add` with `cel` for it.', 'split');
    if (into.length < 2) throw new StepRefused('a field is split into two at least', 'Name the fields.', 'into');
    return withFieldsBeside(model, { type, field }, 'split', (siblings, key) => {
      for (const [name] of into)
        if (name !== key && ownValue(siblings, name))
          throw new StepRefused(`there is a field \`${name}\` already at this step`, 'Choose another name.', 'into');

      return Object.fromEntries(
        Object.entries(siblings).flatMap(([name, definition]) => (name === key ? into : [[name, definition]])),
      );
    });
  },
  inverse: ({ split: text, at: address, into }, { before }) => {
    const { type, field } = addressed(text, 'split', ['field']);
    const [first = '', ...rest] = Object.keys(into);
    const oldField = fieldOf(before, type, field, 'split');
    return [
      { join: `${type}.${beside(field, first)}`, and: rest, with: address, into: { [keyOfField(field)]: oldField } },
    ];
  },
  entries: (step, { before, after }) => {
    const { type: typeName, field: name } = addressed(step.split, 'split', ['field']);
    const { type, field } = linkedField(before, typeName, name);
    const ways = Object.keys(step.into).map((key) => {
      const newField = linkedField(after, typeName, beside(name, key)).field;
      const read = step.written && textReader(field, newField, after.context, step.written);
      return { key, convert: converter(field, newField, after.context, { read }) };
    });
    const key = keyOfField(name);

    return (draft) => {
      if (draft.type !== typeName) return;
      for (const holder of draft.holders(type, name)) {
        const value = holder.valueOf(field);
        if (value === undefined) {
          holder.remove(key);
          continue;
        }

        const parts = partsOfText(String(value), step.at, ways.length);
        let last = key;
        const [first] = ways;
        if (first && first.key !== key) holder.rename(key, first.key);

        for (const [index, way] of ways.entries()) {
          const part: Json | undefined = parts[index];
          const { value: carried, lost } = part === undefined ? { value: undefined, lost: [] } : way.convert(part);
          for (const { item, why: reason } of lost) holder.note([key], item, reason);
          if (carried !== undefined) holder.set(way.key, carried, [last]);
          else if (index === 0) holder.remove(way.key);
          last = way.key;
        }
      }
    };
  },
});

/** Fields as they are in a type. @throws {StepRefused} where one is none. */
export const definitionsOf = (fields: Readonly<Record<string, Json>>, key: string): readonly [string, FieldDoc][] =>
  Object.entries(fields).map(([name, data]) => {
    const { field, mistakes } = readField(data);
    if (field) return [name, field];
    throw new StepRefused(mistakes[0]?.says ?? 'the field cannot be read', mistakes[0]?.mend ?? 'Correct it.', key);
  });
