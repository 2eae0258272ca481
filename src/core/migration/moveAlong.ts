import type { ModelDoc } from '../definition/model.ts';
import { isReference } from '../kinds/traits.ts';
import { converter } from '../model/convertValue.ts';
import type { Field } from '../model/link.ts';
import { asInAnother } from '../model/move.ts';
import { readField } from '../model/readField.ts';
import { pointedAt } from '../model/traversal.ts';
import { equal, type Json, withKey, withoutKey } from '../plain/json.ts';
import { Holder } from './holder.ts';
import { type StepContext, StepRefused, type TakingAll } from './step.ts';
import { addressed, fieldOf, linkedField, placesBefore, withFieldsBeside } from './stepFields.ts';

/** A field that goes to another type: to what its entries point at, or to what points at them. */
export interface MoveAlong {
  readonly move: string;
  readonly to: string;
  /** The reference that leads from the one type to the other, whichever of the two has it. */
  readonly along: string;
  /** Its value there, if that differs. */
  readonly field?: Json | undefined;
}

function placesOf({ move, to, along }: MoveAlong) {
  const from = addressed(move, 'move', ['field']);
  const target = addressed(to, 'to', ['field']);
  const by = addressed(along, 'along', ['field']);
  if ([from, target, by].some(({ field }) => field.includes('.')))
    throw new StepRefused(
      'fields inside objects do not go to another type',
      'Move it out of the object first.',
      'move',
    );
  if (by.type !== from.type && by.type !== target.type)
    throw new StepRefused(
      `\`${along}\` is a field of neither type`,
      `Name a reference of ${from.type} or of ${target.type}.`,
      'along',
    );
  return { from, target, by, isForward: by.type === from.type };
}

/** The model after the field went. @throws {StepRefused} where it cannot. */
export function movedAlong(model: ModelDoc, step: MoveAlong): ModelDoc {
  const { from, target, by, isForward } = placesOf(step);
  const definition = fieldOf(model, from.type, from.field, 'move');
  const reference = fieldOf(model, by.type, by.field, 'along');
  const leadsTo = isForward ? target.type : from.type;
  if (!isReference(reference) || ![reference.to].flat().includes(leadsTo))
    throw new StepRefused(`\`${step.along}\` does not lead to ${leadsTo}`, 'Name a reference that does.', 'along');

  const { field, mistakes } =
    step.field === undefined ? { field: asInAnother(definition), mistakes: [] } : readField(step.field);
  if (!field) throw new StepRefused(mistakes[0]?.says ?? '`field` is none', 'Correct it.', 'field');

  const removed = withFieldsBeside(model, from, 'move', withoutKey);

  return withFieldsBeside(removed, target, 'to', (siblings, key) => {
    if (Object.hasOwn(siblings, key))
      throw new StepRefused(`there is a field \`${step.to}\` already at this step`, 'Choose another name.', 'to');
    return withKey(siblings, key, field);
  });
}

/** The outcome for the entries: each value goes to the entries at the other end, the first where several come to one. */
export function takeAlong(step: MoveAlong, { before, after, orderOf }: StepContext): TakingAll {
  const { from, target, by, isForward } = placesOf(step);
  const { field } = linkedField(before, from.type, from.field);
  const { field: newField } = linkedField(after, target.type, target.field);
  const { field: reference } = linkedField(before, by.type, by.field);
  const convert = converter(field, newField, after.context);
  const places = placesBefore(orderOf(target.type, target.field), target.field);
  /** The value that comes to each entry of the other type, or of each entry that is pointed at. */
  const coming = new Map<string, Json>();
  /** The entries of the other type, where the value goes to the target. */
  const targets = new Set<string>();
  /** What the entries of the other type point at, where the value goes to what points. */
  const pointing: (readonly string[])[] = [];
  const isPointedAt = new Set<string>();
  /** The entries whose value has been taken on by one that points at them. */
  const usedTargets = new Set<string>();
  const firstOf = (ids: readonly string[]): string | undefined => ids.find((id) => coming.has(id));
  const ends = (value: Json | undefined): readonly string[] =>
    pointedAt(reference, value, isForward ? target.type : from.type, before.context);

  return {
    see: (draft) => {
      if (draft.type === target.type && isForward) targets.add(draft.id);
      if (draft.type === target.type && !isForward) pointing.push(ends(draft.get(reference.name)));
      if (draft.type === from.type) {
        const value = draft.get(field.name);
        const ids = isForward ? ends(draft.get(reference.name)) : [draft.id];
        if (value !== undefined) for (const id of ids) if (!coming.has(id)) coming.set(id, value);
      }
    },
    seen: () => {
      for (const ids of pointing.splice(0)) {
        for (const id of ids) isPointedAt.add(id);
        const id = firstOf(ids);
        if (id !== undefined) usedTargets.add(id);
      }
    },
    take: (draft) => {
      const holder = new Holder(draft);
      if (draft.type === from.type) leave(holder, isForward ? ends(draft.get(reference.name)) : [draft.id]);
      if (draft.type !== target.type) return;

      const id = isForward ? draft.id : firstOf(ends(draft.get(reference.name)));
      const value = id === undefined ? undefined : coming.get(id);
      const carried = value === undefined ? undefined : convert(value).value;
      if (carried !== undefined) holder.set(newField.name, carried, places);
    },
  };

  function leave(holder: Holder, ids: readonly string[]): void {
    const value = holder.get(field.name);
    const isHeld = isForward
      ? ids.length > 0 && ids.every((id) => targets.has(id) && equal(coming.get(id), value))
      : ids.every((id) => usedTargets.has(id));
    const isOutdone = ids.some((id) => (isForward ? targets : isPointedAt).has(id));
    if (value !== undefined && !isHeld) holder.note([field.name], value, whyLost(newField, isOutdone));
    holder.remove(field.name);
  }
}

const whyLost = ({ address }: Field, isTaken: boolean): string => {
  if (isTaken) return `another value came to ${address}`;
  return `no entry is at the other end to have it as ${address}`;
};
