import { z } from 'zod';
import { beside, keyOfField } from '../../definition/fieldName.ts';
import { converter } from '../../model/convertValue.ts';
import { saySeparator } from '../../model/separators.ts';
import { type Json, ownValue } from '../../plain/json.ts';
import { list } from '../../plain/words.ts';
import type { Holder } from '../holder.ts';
import { defineStep, StepRefused } from '../step.ts';
import { addressed, fieldOf, linkedField, withFieldsBeside } from '../stepFields.ts';
import { definitionsOf } from './split.ts';

/** Joins the texts of several fields into one. */
export const join = defineStep({
  verb: 'join',
  about: 'Joins the values of several fields into one text, with something between them.',
  shape: {
    join: z.string().describe('The address of the first field.'),
    and: z.array(z.string()).min(1).describe('The names of the others, in order.'),
    with: z.string().describe('The separator of the parts: " ".'),
    into: z.record(z.string(), z.json()).describe('The one field that they become: { name: { kind: text } }.'),
  },
  guess: ({ join: address, and, into }) => `${address}=${[...and, ...Object.keys(into)].join('+')}`,
  answers: () => ['yes', 'no'],
  say: ({ join: address, and, with: between, into }) =>
    `\`${address}\` and ${list(and.map((name) => `\`${name}\``))} are joined with ${saySeparator(between)} into ${list(Object.keys(into).map((name) => `\`${name}\``))}.`,
  model: (step, model) => {
    const { type, field } = addressed(step.join, 'join', ['field']);
    const [into, ...rest] = definitionsOf(step.into, 'into');
    if (!into || rest.length > 0) throw new StepRefused('fields are joined into one', 'Name one field.', 'into');

    const joinedKeys = [keyOfField(field), ...step.and];
    for (const name of joinedKeys) {
      const oldField = fieldOf(model, type, beside(field, name), name === keyOfField(field) ? 'join' : 'and');
      if (oldField.many !== undefined || oldField.localized !== undefined)
        throw new StepRefused(`\`${name}\` is not one value alone`, 'Write a step `add` with `cel` for it.', 'join');
    }

    return withFieldsBeside(model, { type, field }, 'join', (siblings, key) => {
      if (!joinedKeys.includes(into[0]) && ownValue(siblings, into[0]))
        throw new StepRefused(`there is a field \`${into[0]}\` already at this step`, 'Choose another name.', 'into');
      return Object.fromEntries(
        Object.entries(siblings).flatMap(([name, definition]) => {
          if (name === key) return [into];
          if (joinedKeys.includes(name)) return [];
          return [[name, definition]];
        }),
      );
    });
  },
  inverse: ({ join: text, and, with: between, into }, { before }) => {
    const { type, field } = addressed(text, 'join', ['field']);
    const [name = ''] = Object.keys(into);
    const parts = [keyOfField(field), ...and].map(
      (key) => [key, fieldOf(before, type, beside(field, key), 'join')] as const,
    );
    const joined = `${type}.${beside(field, name)}`;

    // Where nothing stood between, nobody knows where the one ended.
    if (between === '')
      return [
        { drop: joined },
        ...parts.map(([key, definition]) => ({ add: `${type}.${beside(field, key)}`, field: definition })),
      ];
    return [{ split: joined, at: between, into: Object.fromEntries(parts) }];
  },
  entries: (step, { before, after }) => {
    const { type: typeName, field: name } = addressed(step.join, 'join', ['field']);
    const { type } = linkedField(before, typeName, name);
    const [key = ''] = Object.keys(step.into);
    const newField = linkedField(after, typeName, beside(name, key)).field;
    const ways = [keyOfField(name), ...step.and].map((key) => {
      const { field } = linkedField(before, typeName, beside(name, key));
      return { key, field, convert: converter(field, newField, after.context) };
    });

    const textOf = (holder: Holder): string | undefined => {
      const parts = ways.flatMap(({ key, field, convert }): readonly string[] => {
        const value = holder.valueOf(field);
        if (value === undefined) return [];
        const { value: carried, lost } = convert(value);
        for (const { item, why: reason } of lost) holder.note([key], item, reason);
        if (carried === undefined) return [];
        return [asText(carried)];
      });
      if (parts.length === 0) return undefined;
      return parts.join(step.with);
    };

    return (draft) => {
      if (draft.type !== typeName) return;
      for (const holder of draft.holders(type, name)) {
        const text = textOf(holder);
        const [first] = ways.filter((way) => Object.hasOwn(holder.keys(), way.key));
        if (text !== undefined && first && first.key !== key) holder.rename(first.key, key);
        if (text !== undefined) holder.set(key, text);
        for (const way of ways) if (way.key !== key) holder.remove(way.key);
      }
    };
  },
});

const asText = (value: Json): string => {
  if (typeof value === 'string') return value;
  return JSON.stringify(value);
};
