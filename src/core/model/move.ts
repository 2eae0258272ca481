import { moveInExpression } from '../cel/names.ts';
import type { FieldDoc } from '../definition/field.ts';
import type { ModelDoc } from '../definition/model.ts';
import type { TypeDoc } from '../definition/type.ts';
import { compact, isObject, type JsonObject, mapValues, own, withKey, withoutKey } from '../plain/json.ts';
import { relocated } from '../plain/relocate.ts';
import { fieldsInside, formOf } from './nestedFields.ts';

/** A field that stands elsewhere in its type: in an object, in another one, or in none any more. Both are paths, `at.street`. */
export interface Move {
  readonly type: string;
  readonly from: string;
  readonly to: string;
}

type Fields = TypeDoc['fields'];

/** The path of the object that a field stands in; empty for one of the type itself. */
export const pathAbove = (name: string): string => name.slice(0, Math.max(0, name.lastIndexOf('.')));

/** The objects on the way to a field, the outermost first, `a` and `a.b` of `a.b.c`. */
export const objectsAbove = (name: string): readonly string[] =>
  name
    .split('.')
    .slice(0, -1)
    .map((_, index, keys) => keys.slice(0, index + 1).join('.'));

/** Whether fields can be moved into and out of what stands at a path: one object alone, or nothing yet. */
export const holdsOne = (fields: Fields, path: string): boolean =>
  [...objectsAbove(path), path]
    .filter((one) => one !== '')
    .every((one) => {
      const definition = formOf(fields, one);
      if (!definition) return true;
      return definition.kind === 'object' && definition.many === undefined && definition.localized === undefined;
    });

/** The model after a field was moved; what it stood in goes where nothing is left in it. */
export function moveInModel(model: ModelDoc, { type: name, from, to }: Move): ModelDoc {
  const type = own(model.types, name);
  const definition = type && formOf(type.fields, from);
  if (!type || !definition) return model;
  const moved = withField(withoutField(type.fields, from.split('.')), to.split('.'), fitting(definition, to));
  const named = (expression: string): string => moveInExpression(expression, from, to);
  const { titled, rules, order } = type;
  const mentions = compact({
    titled: titled === from ? to : titled,
    rules: rules?.map((rule) => ({
      ...rule,
      expect: named(rule.expect),
      ...(rule.at === from ? { at: to.split('.')[0] } : {}),
    })),
    order: order?.filter((one) => one !== from),
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

/** A field without what is about the fields beside it, as it can stand beside others. */
export const asInAnother = (definition: FieldDoc): FieldDoc =>
  outsideOnly.reduce<FieldDoc>((all, option) => withoutKey(all, option) as FieldDoc, definition);

const fitting = (definition: FieldDoc, to: string): FieldDoc =>
  to.includes('.') ? asInAnother(definition) : definition;

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

function withoutField(fields: Fields, [key = '', ...deeper]: readonly string[]): Fields {
  if (deeper.length === 0) return withoutKey(fields, key);
  const definition = own(fields, key);
  if (!definition) return fields;
  const inside = withoutField(fieldsInside(definition), deeper);
  return Object.keys(inside).length === 0
    ? withoutKey(fields, key)
    : withKey(fields, key, { ...definition, fields: inside });
}

function withField(fields: Fields, [key = '', ...deeper]: readonly string[], definition: FieldDoc): Fields {
  if (deeper.length === 0) return withKey(fields, key, definition);
  const object: FieldDoc = own(fields, key) ?? { kind: 'object' };
  return withKey(fields, key, { ...object, fields: withField(fieldsInside(object), deeper, definition) });
}

/** The values of an entry after a field was moved. */
export const moveValue = (fields: JsonObject, { from, to }: Pick<Move, 'from' | 'to'>): JsonObject =>
  relocated(fields, from.split('.'), to.split('.'));
