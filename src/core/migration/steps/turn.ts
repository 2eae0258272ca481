import { z } from 'zod';
import { keyOfField } from '../../definition/fieldName.ts';
import type { EntryLink } from '../../kinds/define.ts';
import { readField } from '../../model/readField.ts';
import { singleValues } from '../../model/traversal.ts';
import { type Json, withKey, withoutKey } from '../../plain/json.ts';
import { Holder } from '../entryDraft.ts';
import { addressed, fieldOf, linkedField, placesBefore, withFieldsBeside } from '../fill.ts';
import { defineStep, StepRefused } from '../step.ts';

/** Turns a reference round: what was pointed at points back, and the field it was pointed at by goes. */
export const turn = defineStep({
  verb: 'turn',
  about: 'Turns a reference round: what was pointed at points at what pointed there.',
  shape: {
    turn: z.string().describe('The address of a reference.'),
    to: z.string().describe('The address of the reference on the other side, which is new.'),
    field: z.json().describe('That reference, as it stands in its type.'),
  },
  addresses: ['to'],
  guess: ({ turn: address }) => address,
  answers: () => ['yes', 'no'],
  say: ({ turn: address, to }) => `\`${address}\` is turned round: \`${to}\` points at what pointed there.`,
  model: (step, model) => {
    const from = addressed(step.turn, 'turn', ['field']);
    const to = addressed(step.to, 'to', ['field']);
    const was = fieldOf(model, from.type, from.field, 'turn');
    const { field: is, mistakes } = readField(step.field);
    if (was.kind !== 'reference' || is?.kind !== 'reference')
      throw new StepRefused(
        was.kind === 'reference'
          ? (mistakes[0]?.says ?? '`field` is no reference')
          : `\`${step.turn}\` is no reference`,
        'Write `field: { kind: reference, to: … }`.',
        was.kind === 'reference' ? 'field' : 'turn',
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
      return withKey(siblings, key, is);
    });
  },
  inverse: ({ turn: text, to }, { before }) => {
    const { type, field } = addressed(text, 'turn', ['field']);
    return [{ turn: to, to: text, field: fieldOf(before, type, field, 'turn') }];
  },
  entries: (step, { before, after, orderOf }) => {
    const from = addressed(step.turn, 'turn', ['field']);
    const to = addressed(step.to, 'to', ['field']);
    const { field: was } = linkedField(before, from.type, from.field);
    const { field: is } = linkedField(after, to.type, to.field);
    const [only, ...others] = is.kind.pointsAt(is.options).types;
    const places = placesBefore(orderOf(to.type, to.field), to.field);
    const pointing = new Map<string, Set<string>>();
    const there = new Set<string>();
    const linksOf = (item: Json): readonly EntryLink[] =>
      (was.kind.links?.(item, was.options, before.context) ?? []).map((link) => link.to);

    return {
      see: (draft) => {
        if (draft.type === to.type) there.add(draft.id);
        if (draft.type !== from.type) return;
        const self = only === from.type && others.length === 0 ? draft.id : `${draft.type}/${draft.id}`;
        for (const { item } of singleValues(was, draft.get(was.name)))
          for (const { type, id } of linksOf(item)) {
            if (type !== to.type) continue;
            pointing.set(id, (pointing.get(id) ?? new Set<string>()).add(self));
          }
      },
      seen: () => undefined,
      take: (draft) => {
        if (draft.type === from.type) {
          const holder = new Holder(draft);
          const value = draft.get(was.name);
          for (const { item } of singleValues(was, value))
            if (!linksOf(item).every(({ type, id }) => type === to.type && there.has(id)))
              holder.note([was.name], item, `it does not lead to an entry of ${to.type}`);
          draft.remove(was.name);
        }
        const found = draft.type === to.type ? [...(pointing.get(draft.id) ?? [])] : [];
        const [first, ...more] = found;
        if (first === undefined) return;
        const holder = new Holder(draft);
        for (const left of is.common.many ? [] : more)
          holder.note([keyOfField(to.field)], left, 'the reference leads to one entry alone');
        draft.set(is.name, is.common.many ? found : first, places);
      },
    };
  },
});
