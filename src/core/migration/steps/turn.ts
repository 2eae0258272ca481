import { z } from 'zod';
import { keyOfField } from '../../definition/fieldName.ts';
import type { EntryLink } from '../../kinds/kindParts.ts';
import { readField } from '../../model/readField.ts';
import { singleValues } from '../../model/traversal.ts';
import { type Json, withKey, withoutKey } from '../../plain/json.ts';
import { Holder } from '../holder.ts';
import { defineStep, StepRefused } from '../step.ts';
import { addressed, fieldOf, linkedField, placesBefore, withFieldsBeside } from '../stepFields.ts';

/** Turns a reference round: the target points back, and the field it was pointed at by goes. */
export const turn = defineStep({
  verb: 'turn',
  about: 'Turns a reference round: its targets point back at its entries.',
  shape: {
    turn: z.string().describe('The address of a reference.'),
    to: z.string().describe('The address of the reference on the other side, which is new.'),
    field: z.json().describe('The definition of the new reference.'),
  },
  addresses: ['to'],
  guess: ({ turn: address }) => address,
  answers: () => ['yes', 'no'],
  say: ({ turn: address, to }) => `\`${address}\` is turned round: \`${to}\` points at what pointed there.`,
  model: (step, model) => {
    const from = addressed(step.turn, 'turn', ['field']);
    const to = addressed(step.to, 'to', ['field']);
    const oldField = fieldOf(model, from.type, from.field, 'turn');
    const { field, mistakes } = readField(step.field);
    if (oldField.kind !== 'reference' || field?.kind !== 'reference')
      throw new StepRefused(
        oldField.kind === 'reference'
          ? (mistakes[0]?.says ?? '`field` is no reference')
          : `\`${step.turn}\` is no reference`,
        'Write `field: { kind: reference, to: … }`.',
        oldField.kind === 'reference' ? 'field' : 'turn',
      );
    if (from.field.includes('.') || to.field.includes('.'))
      throw new StepRefused(
        'references inside objects are not turned round',
        'Move the field out of it first.',
        'turn',
      );

    const removed = withFieldsBeside(model, from, 'turn', withoutKey);

    return withFieldsBeside(removed, to, 'to', (siblings, key) => {
      if (Object.hasOwn(siblings, key))
        throw new StepRefused(`there is a field \`${step.to}\` already at this step`, 'Choose another name.', 'to');
      return withKey(siblings, key, field);
    });
  },
  inverse: ({ turn: text, to }, { before }) => {
    const { type, field } = addressed(text, 'turn', ['field']);
    return [{ turn: to, to: text, field: fieldOf(before, type, field, 'turn') }];
  },
  entries: (step, { before, after, orderOf }) => {
    const from = addressed(step.turn, 'turn', ['field']);
    const to = addressed(step.to, 'to', ['field']);
    const { field } = linkedField(before, from.type, from.field);
    const { field: newField } = linkedField(after, to.type, to.field);
    const [only, ...rest] = newField.kind.pointsAt(newField.options).types;
    const places = placesBefore(orderOf(to.type, to.field), to.field);
    const pointing = new Map<string, Set<string>>();
    const targets = new Set<string>();
    const linksOf = (item: Json): readonly EntryLink[] =>
      (field.kind.links?.(item, field.options, before.context) ?? []).map((link) => link.to);

    return {
      see: (draft) => {
        if (draft.type === to.type) targets.add(draft.id);
        if (draft.type !== from.type) return;

        const self = only === from.type && rest.length === 0 ? draft.id : `${draft.type}/${draft.id}`;
        for (const { item } of singleValues(field, draft.get(field.name)))
          for (const { type, id } of linksOf(item)) {
            if (type !== to.type) continue;
            pointing.set(id, (pointing.get(id) ?? new Set<string>()).add(self));
          }
      },
      seen: () => undefined,
      take: (draft) => {
        if (draft.type === from.type) {
          const holder = new Holder(draft);
          const value = draft.get(field.name);
          for (const { item } of singleValues(field, value))
            if (!linksOf(item).every(({ type, id }) => type === to.type && targets.has(id)))
              holder.note([field.name], item, `it does not lead to an entry of ${to.type}`);

          draft.remove(field.name);
        }

        const sources = draft.type === to.type ? [...(pointing.get(draft.id) ?? [])] : [];
        const [first, ...more] = sources;
        if (first === undefined) return;

        const holder = new Holder(draft);
        for (const target of newField.common.many ? [] : more)
          holder.note([keyOfField(to.field)], target, 'the reference leads to one entry alone');
        draft.set(newField.name, newField.common.many ? sources : first, places);
      },
    };
  },
});
