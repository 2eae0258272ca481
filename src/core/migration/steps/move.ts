import { z } from 'zod';
import type { ModelDoc } from '../../definition/model.ts';
import { holdsOne, type Move, moveInModel, pathAbove } from '../../model/move.ts';
import { formOf } from '../../model/nestedFields.ts';
import { own } from '../../plain/json.ts';
import { valueAt } from '../../plain/relocate.ts';
import { addressed, fieldOf, placesBefore } from '../fill.ts';
import { defineStep, StepRefused } from '../step.ts';

/** Moves a field into an object, out of one, or from one to another; its values go along. */
export const move = defineStep({
  verb: 'move',
  about: 'Moves a field of a type into an object, out of one, or from one to another; the values go along.',
  shape: {
    move: z.string().describe('The address of a field.'),
    to: z.string().describe('The address that it has then: tour.at.street.'),
  },
  isGuess: true,
  answers: () => ['yes', 'no'],
  say: ({ move: address, to }) => `\`${address}\` stands at \`${to}\`, and its values go along.`,
  model: (step, model) => {
    const moving = moveOf(step);
    refuseUnfit(moving, model);
    return moveInModel(model, moving);
  },
  inverse: ({ move: address, to }) => [{ move: to, to: address }],
  entries: (step, { before, orderOf }) => {
    const moving = moveOf(step);
    const type = before.types.get(moving.type);
    const [outer = ''] = moving.to.split('.');
    const places = placesBefore(orderOf(moving.type, outer), outer);
    const [from, to] = [moving.from.split('.'), moving.to.split('.')];

    return (draft) => {
      if (draft.type !== moving.type || !type || valueAt(draft.fields, from) === undefined) return;
      const inTheWay = valueAt(draft.fields, to);
      if (inTheWay !== undefined)
        draft.losses.push({ path: to, value: inTheWay, why: `${moving.from} stands there now` });
      draft.carry(from, to, places);
    };
  },
});

function moveOf({ move: text, to }: { readonly move: string; readonly to: string }): Move {
  const from = addressed(text, 'move', ['field']);
  const target = addressed(to, 'to', ['field']);
  if (from.type !== target.type)
    throw new StepRefused('a field is moved within its type', `Write \`to: ${from.type}.…\`.`, 'to');
  return { type: from.type, from: from.field, to: target.field };
}

function refuseUnfit({ type, from, to }: Move, model: ModelDoc): void {
  fieldOf(model, type, from, 'move');
  const fields = own(model.types, type)?.fields ?? {};
  if (formOf(fields, to))
    throw new StepRefused(
      `there is a field \`${type}.${to}\` already at this step`,
      'Choose another name, or remove the step that adds it.',
      'to',
    );
  const [unfit] = [pathAbove(from), pathAbove(to)].filter((path) => !holdsOne(fields, path));
  if (unfit !== undefined)
    throw new StepRefused(
      `\`${type}.${unfit}\` is not one object alone`,
      'Where there may be several, say with `add` and `cel` what each gets.',
      unfit === pathAbove(from) ? 'move' : 'to',
    );
  if (to.startsWith(`${from}.`))
    throw new StepRefused('a field cannot stand inside itself', 'Choose another place.', 'to');
}
