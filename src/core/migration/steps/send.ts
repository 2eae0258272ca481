import { z } from 'zod';
import type { EntryLink } from '../../kinds/kindParts.ts';
import { converter } from '../../model/convertValue.ts';
import type { Type } from '../../model/link.ts';
import { relocatedValues } from '../../model/renameValues.ts';
import { list } from '../../plain/words.ts';
import type { EntryDraft } from '../entryDraft.ts';
import { compileCondition } from '../fill.ts';
import { Holder } from '../holder.ts';
import { defineStep, type StepContext, StepRefused } from '../step.ts';
import { addressed, typeOf } from '../stepFields.ts';

/** Sends entries of one type into another one; all that points at them follows. */
export const send = defineStep({
  verb: 'send',
  about:
    'Makes entries of one type, all or those for which `where` holds, entries of another; what points at them follows.',
  shape: {
    send: z.string().describe('The type that entries leave.'),
    to: z.string().describe('The type that they come into; fields of the same name go along.'),
    where: z.string().optional().describe('Only where this CEL condition holds, over `entry`.'),
    only: z.array(z.string()).optional().describe('Only entries with these identifiers.'),
    as: z
      .record(z.string(), z.string())
      .optional()
      .describe('Fields that are called otherwise there: { title: name }.'),
  },
  addresses: ['to'],
  guess: ({ send: from, to }) => `${from}=${to}`,
  answers: () => ['yes', 'no', 'where'],
  say: ({ send: from, to, where, as = {} }) => {
    const named = Object.entries(as).map(([oldName, newName]) => `\`${oldName}\` as \`${newName}\``);
    return `Entries of \`${from}\`${where === undefined ? '' : ` where ${where}`} become entries of \`${to}\`${named.length > 0 ? `, ${list(named)}` : ''}; what points at them follows.`;
  },
  model: (step, model) => {
    const { from, to } = typesOf(step);
    typeOf(model, from, 'send');
    typeOf(model, to, 'to');
    if (from === to) throw new StepRefused('the entries are of that type already', 'Name another type.', 'to');
    return model;
  },
  inverse: ({ send: from, to, as = {} }, { knownNames }) => [
    {
      send: to,
      to: from,
      only: knownNames.sent(from, to),
      as: Object.fromEntries(Object.entries(as).map(([oldName, newName]) => [newName, oldName])),
    },
  ],
  entries: (step, context) => {
    const { before } = context;
    const { from, to } = typesOf(step);
    const [oldType, newType] = [before.types.get(from), before.types.get(to)];
    if (!oldType || !newType)
      throw new StepRefused('there is no such type at this step', 'Look at the steps before.', 'send');

    const concerns = compileCondition(step.where, '', oldType, context);
    const carry = carrier(oldType, newType, step.as ?? {}, context);
    const only = step.only && new Set(step.only);
    const sent = new Set<string>();
    const elsewhere = (entry: EntryLink): EntryLink => {
      if (entry.type === from && sent.has(entry.id)) return { type: to, id: entry.id };
      return entry;
    };

    return {
      see: (draft) => {
        const isMeant = draft.type === from && (only === undefined || only.has(draft.id));
        if (isMeant && concerns(draft, new Holder(draft))) sent.add(draft.id);
      },
      seen: () => undefined,
      take: (draft) => {
        const type = before.types.get(draft.type);
        if (!type) return;
        for (const [field, value] of relocatedValues(draft.fields, type, elsewhere)) draft.set(field, value);
        if (draft.type !== from || !sent.has(draft.id)) return;
        carry(draft);
        draft.moveTo(to);
      },
    };
  },
});

const typesOf = (step: { readonly send: string; readonly to: string }) => ({
  from: addressed(step.send, 'send', ['type']).type,
  to: addressed(step.to, 'to', ['type']).type,
});

/** Compiles the outcome for the values of an entry in another type. @throws {StepRefused} where a name is none. */
function carrier(
  oldType: Type,
  newType: Type,
  names: Readonly<Record<string, string>>,
  { before }: StepContext,
): (draft: EntryDraft) => void {
  for (const [old, name] of Object.entries(names)) {
    const [type, missing] = oldType.fields.has(old) ? [newType.name, name] : [oldType.name, old];
    if (!oldType.fields.has(old) || !newType.fields.has(name))
      throw new StepRefused(
        `there is no field \`${type}.${missing}\` at this step`,
        'Name fields of both types.',
        'as',
      );
  }

  const ways = [...oldType.fields.values()].map((field) => {
    const name = names[field.name] ?? field.name;
    const target =
      Object.values(names).includes(name) && names[field.name] === undefined ? undefined : newType.fields.get(name);
    return { field, target, convert: target && converter(field, target, before.context) };
  });

  return (draft) => {
    const holder = new Holder(draft);
    for (const { field, target } of ways) {
      const value = target ? undefined : draft.get(field.name);
      if (value !== undefined) holder.note([field.name], value, `${newType.name} has no field ${field.name}`);
      if (!target) draft.remove(field.name);
    }

    for (const { field, target, convert } of ways) {
      const value = draft.get(field.name);
      if (!target || !convert) continue;

      if (field.name !== target.name) draft.rename(field.name, target.name);
      if (value === undefined) continue;

      const carried = convert(value);
      for (const { item, why: reason } of carried.lost) holder.note([field.name], item, reason);
      if (carried.value === undefined) draft.remove(target.name);
      else draft.set(target.name, carried.value);
    }
  };
}
