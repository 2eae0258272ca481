import { z } from 'zod';
import { keyOfField } from '../../definition/fieldName.ts';
import type { ModelDoc } from '../../definition/model.ts';
import { isEmpty } from '../../entry/entry.ts';
import { type Move, moveInModel, movingIn, objectsAbove, unfitFor } from '../../model/move.ts';
import { formOf } from '../../model/nestedFields.ts';
import { at, compact, isObject, type Json, ownValue } from '../../plain/json.ts';
import { valueAt } from '../../plain/relocate.ts';
import { type MoveAlong, movedAlong, takeAlong } from '../moveAlong.ts';
import { defineStep, StepRefused } from '../step.ts';
import { addressed, fieldOf, placesBefore } from '../stepFields.ts';

/** Moves a field into an object, out of one, or from one to another; its values go along. */
export const move = defineStep({
  verb: 'move',
  about:
    'Moves a field of a type into an object, out of one, or from one to another; or along a reference to another type. The values go along.',
  shape: {
    move: z.string().describe('The address of a field.'),
    to: z.string().describe('The address that it has then: tour.at.street.'),
    along: z
      .string()
      .optional()
      .describe('Of a field that goes to another type: the reference between the two, tour.guide.'),
    field: z.json().optional().describe('The new definition of a field that moves to another type, if it differs.'),
  },
  leadsTo: ({ to }) => to,
  addresses: ['to', 'along'],
  guess: ({ move: address, to, along }) => (along === undefined ? `${address}=${to}` : address),
  answers: () => ['yes', 'no'],
  say: ({ move: address, to, along }) =>
    `\`${address}\` stands at \`${to}\`, and its values go ${along === undefined ? 'along' : `there along \`${along}\``}.`,
  model: (step, model) => {
    if (isAlong(step)) return movedAlong(model, step);
    if (step.field !== undefined)
      throw new StepRefused(
        'within its type a field stays what it is',
        'Leave `field` out, and add a `change` step.',
        'field',
      );

    const moving = moveOf(step);
    refuseUnfit(moving, model);

    return moveInModel(model, moving);
  },
  inverse: ({ move: address, to, along }, { before }) => {
    const { type, field } = addressed(address, 'move', ['field']);
    const oldField = along === undefined ? undefined : fieldOf(before, type, field, 'move');
    return [compact({ move: to, to: address, along, field: oldField })];
  },
  entries: (step, context) => {
    if (isAlong(step)) return takeAlong(step, context);

    const { before, after, orderOf } = context;
    const moving = moveOf(step);
    const type = before.types.get(moving.type);
    const remainingFields = ownValue(after.definition.types, moving.type)?.fields ?? {};
    // The outermost object that goes, since nothing is left in it.
    const missing = objectsAbove(moving.from).find((path) => !formOf(remainingFields, path));
    const [outer = ''] = moving.to.split('.');
    const places = placesBefore(orderOf(moving.type, outer), outer);
    const { holders, from, to } = movingIn(type, moving);

    return (draft) => {
      if (draft.type !== moving.type || !type) return;

      for (const inside of holders(draft.fields)) {
        const holder = at(draft.fields, inside);
        if (valueAt(holder, from) === undefined) continue;
        const inTheWay = valueAt(holder, to);
        if (inTheWay !== undefined)
          draft.losses.push({ path: [...inside, ...to], value: inTheWay, why: `${moving.from} stands there now` });
        draft.carry(from, to, inside.length === 0 ? places : [], inside);
      }

      if (missing === undefined) return;
      for (const holder of draft.holders(type, missing)) {
        const key = keyOfField(missing);
        const value = ownValue(holder.keys(), key);
        if (value !== undefined && isHollow(value)) holder.remove(key);
      }
    };
  },
});

/** Whether there is nothing in a value, however many groups of keys it is. */
const isHollow = (value: Json): boolean =>
  isEmpty(value) || (isObject(value) && Object.values(value).every((value) => isHollow(value)));

const isAlong = (step: {
  readonly move: string;
  readonly to: string;
  readonly along?: string | undefined;
}): step is MoveAlong => step.along !== undefined;

function moveOf({ move: text, to }: { readonly move: string; readonly to: string }): Move {
  const from = addressed(text, 'move', ['field']);
  const target = addressed(to, 'to', ['field']);
  if (from.type !== target.type)
    throw new StepRefused(
      'a field is moved within its type, or along a reference',
      `Write \`to: ${from.type}.…\`, or name the reference between the two: \`along: ${from.type}.…\`.`,
      'to',
    );
  return { type: from.type, from: from.field, to: target.field };
}

function refuseUnfit({ type, from, to }: Move, model: ModelDoc): void {
  fieldOf(model, type, from, 'move');
  const fields = ownValue(model.types, type)?.fields ?? {};
  if (formOf(fields, to))
    throw new StepRefused(
      `there is a field \`${type}.${to}\` already at this step`,
      'Choose another name, or remove the step that adds it.',
      'to',
    );

  const unfit = unfitFor(fields, { from, to });
  if (unfit !== undefined)
    throw new StepRefused(
      `\`${type}.${unfit}\` is not one object alone`,
      'Where there may be several, say with `add` and `cel` what each gets.',
      from.startsWith(`${unfit}.`) ? 'move' : 'to',
    );
  if (to.startsWith(`${from}.`))
    throw new StepRefused('a field cannot stand inside itself', 'Choose another place.', 'to');
}
