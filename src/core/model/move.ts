import { moveInExpression } from '../cel/names.ts';
import type { FieldDoc } from '../definition/field.ts';
import type { ModelDoc } from '../definition/model.ts';
import type { TypeDoc } from '../definition/type.ts';
import {
  compact,
  isObject,
  type JsonObject,
  mapValues,
  ownValue,
  type Path,
  withKey,
  withoutKey,
} from '../plain/json.ts';
import { relocatedIn } from '../plain/relocate.ts';
import type { Type } from './link.ts';
import { fieldsInside, formOf, holderPaths } from './nestedFields.ts';

/** A field that is elsewhere in its type: in an object, in another one, or in none any more. Both are paths, `at.street`. */
export interface Move {
  readonly type: string;
  readonly from: string;
  readonly to: string;
}

type Fields = TypeDoc['fields'];

/** The path of the object that a field is in; empty for one of the type itself. */
export const pathAbove = (name: string): string => name.slice(0, Math.max(0, name.lastIndexOf('.')));

/** The objects on the way to a field, the outermost first, `a` and `a.b` of `a.b.c`. */
export const objectsAbove = (name: string): readonly string[] =>
  name
    .split('.')
    .slice(0, -1)
    .map((_, index, keys) => keys.slice(0, index + 1).join('.'));

/** The path of the innermost object that a field is in before a move and after it; empty where that is the entry. */
function commonHolder({ from, to }: Pick<Move, 'from' | 'to'>): string {
  const [before, after] = [objectsAbove(from), objectsAbove(to)];
  return before.findLast((path) => after.includes(path)) ?? '';
}

/**
 * What a field cannot be moved out of, or into: on either side, below its common holder, there is one
 * object alone, or nothing yet. Its constant surroundings may be a list, or differ by language.
 * @param sides the places that are looked at: both, if it says nothing.
 */
export function unfitFor(
  fields: Fields,
  move: Pick<Move, 'from' | 'to'>,
  sides: readonly string[] = [move.from, move.to],
): string | undefined {
  const common = commonHolder(move);
  const holdsOne = (path: string): boolean => {
    const definition = formOf(fields, path);
    if (!definition) return true;
    return definition.kind === 'object' && definition.many === undefined && definition.localized === undefined;
  };

  return sides.flatMap(objectsAbove).find((path) => path.length > common.length && !holdsOne(path));
}

/** The model after a field was moved; its old holder goes if it is empty. */
export function moveInModel(model: ModelDoc, { type: name, from, to }: Move): ModelDoc {
  const type = ownValue(model.types, name);
  const definition = type && formOf(type.fields, from);
  if (!type || !definition) return model;

  const common = commonHolder({ from, to });
  const stays = common === '' ? 0 : common.split('.').length;
  const remaining = withoutField(type.fields, from.split('.'), stays);
  const moved = withField(remaining, to.split('.'), fitting(definition, to));
  const named = (expression: string): string => moveInExpression(expression, from, to);
  const { titled, rules, order } = type;
  const mentions = compact({
    titled: titled === from ? to : titled,
    rules: rules?.map((rule) => ({
      ...rule,
      expect: named(rule.expect),
      ...(rule.at === from ? { at: to.split('.')[0] } : {}),
    })),
    order: order?.filter((name) => name !== from),
  }) as Partial<TypeDoc>;

  return {
    ...model,
    types: withKey(model.types, name, {
      ...type,
      ...mentions,
      fields: mapValues(moved, (field) => inField(field, named)),
    }),
  };
}

/** What only means something of a field in a type itself, and is left behind where it is moved into an object. */
export const outsideOnly: readonly string[] = ['group', 'when', 'computed'];

/** A field without references to its siblings. */
export const asInAnother = (definition: FieldDoc): FieldDoc =>
  outsideOnly.reduce<FieldDoc>((result, option) => withoutKey(result, option) as FieldDoc, definition);

const fitting = (definition: FieldDoc, to: string): FieldDoc => {
  if (!to.includes('.')) return definition;
  return asInAnother(definition);
};

/** What a field computes and when it applies, after another one was moved. */
function inField(definition: FieldDoc, named: (expression: string) => string): FieldDoc {
  const { when, computed } = definition;
  const cel = isObject(computed) && typeof computed.cel === 'string' ? computed.cel : undefined;
  if (when === undefined && cel === undefined) return definition;
  return {
    ...definition,
    ...(when === undefined ? {} : { when: named(String(when)) }),
    ...(cel === undefined ? {} : { computed: { cel: named(cel) } }),
  };
}

/** @param stays so many of the outermost objects stay, even if nothing is left in them. */
function withoutField(fields: Fields, [key = '', ...deeper]: readonly string[], stays: number): Fields {
  if (deeper.length === 0) return withoutKey(fields, key);

  const definition = ownValue(fields, key);
  if (!definition) return fields;

  const inside = withoutField(fieldsInside(definition), deeper, stays - 1);
  if (Object.keys(inside).length === 0 && stays <= 0) return withoutKey(fields, key);
  return withKey(fields, key, { ...definition, fields: inside });
}

function withField(fields: Fields, [key = '', ...deeper]: readonly string[], definition: FieldDoc): Fields {
  if (deeper.length === 0) return withKey(fields, key, definition);
  const object: FieldDoc = ownValue(fields, key) ?? { kind: 'object' };
  return withKey(fields, key, { ...object, fields: withField(fieldsInside(object), deeper, definition) });
}

/** Where values move: in the entry itself, or in each object that a field is in before and after. */
export interface MovingIn {
  readonly holders: (fields: JsonObject) => readonly Path[];
  /** The keys that lead from there to a value, and where it goes. */
  readonly from: readonly string[];
  readonly to: readonly string[];
}

/** How values of a type move; nothing of an entry does where the type is not known. */
export function movingIn(type: Type | undefined, move: Pick<Move, 'from' | 'to'>): MovingIn {
  const common = commonHolder(move);
  const depth = common === '' ? 0 : common.split('.').length;
  const [from, to] = [move.from, move.to].map((path) => path.split('.').slice(depth)) as [string[], string[]];
  const name = [...(common === '' ? [] : [common]), from[0]].join('.');
  return { holders: (fields) => (type ? holderPaths(type, name, fields) : []), from, to };
}

/** The values of an entry after a field was moved. */
export const moveValue = (fields: JsonObject, { holders, from, to }: MovingIn): JsonObject =>
  holders(fields).reduce<JsonObject>((result, path) => relocatedIn(result, path, from, to), fields);
