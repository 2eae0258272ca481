import type { FieldDoc } from '../definition/field.ts';
import { keyOfField } from '../definition/fieldName.ts';
import { at, isObject, type JsonObject, type Path, withKey } from '../plain/json.ts';
import type { Field, Model, Type } from './link.ts';
import { singleValues } from './traversal.ts';

/**
 * Fields inside objects. The name of a field is a path: `opens` inside `hours` is `hours.opens`, its key is `opens`, and
 * its values are in holders: the entry itself, or each object that is a value of the field above.
 */
type Fields = Readonly<Record<string, FieldDoc>>;

/** The fields inside a field, by key; none where it is no object. */
export const fieldsInside = (definition: FieldDoc | undefined): Fields => {
  if (definition && isObject(definition.fields)) return definition.fields as Fields;
  return {};
};

/** The fields among which one stands: those of its type, or those of the object that it is inside of. */
export function siblingsOf(fields: Fields, name: string): Fields {
  const above = name.split('.').slice(0, -1);
  return above.reduce((level, key) => fieldsInside(Object.hasOwn(level, key) ? level[key] : undefined), fields);
}

/** The definition of a field; `undefined` where there is none. */
export function formOf(fields: Fields, name: string): FieldDoc | undefined {
  const siblings = siblingsOf(fields, name);
  const key = keyOfField(name);
  if (!Object.hasOwn(siblings, key)) return undefined;
  return siblings[key];
}

/** The fields of a type after those among which one stands were changed. */
export function withSiblings(fields: Fields, name: string, change: (siblings: Fields) => Fields): Fields {
  const [outer = '', ...inner] = name.split('.');
  if (inner.length === 0) return change(fields);

  const definition = Object.hasOwn(fields, outer) ? fields[outer] : undefined;
  if (!definition) return fields;

  return withKey(fields, outer, {
    ...definition,
    fields: withSiblings(fieldsInside(definition), inner.join('.'), change),
  });
}

/** The linked field of a type by its name. */
export function fieldNamed({ fields }: Type, name: string): Field | undefined {
  const [outer = '', ...inner] = name.split('.');
  return inner.reduce<Field | undefined>((field, key) => field?.fields.get(key), fields.get(outer));
}

/** The linked field at an address, `lighthouse.hours.opens`; nothing where there is none. */
export function fieldAddressed({ types }: Pick<Model, 'types'>, address: string): Field | undefined {
  const [name = '', ...path] = address.split('.');
  const type = types.get(name);
  return type && fieldNamed(type, path.join('.'));
}

/** Every field of a type, those inside objects included. */
export const fieldsWithin = (fields: ReadonlyMap<string, Field>): readonly Field[] =>
  [...fields.values()].flatMap((field) => [field, ...fieldsWithin(field.fields)]);

/** Where the holders of a field are in an entry: at the entry itself, `[]`, or wherever an object above it does. */
export function holderPaths(type: Type, name: string, fields: JsonObject): readonly Path[] {
  const above = name.split('.').slice(0, -1);
  return above.reduce<readonly Path[]>(
    (paths, key, depth) => {
      const field = fieldNamed(type, above.slice(0, depth + 1).join('.'));
      if (!field) return [];
      return paths.flatMap((path) =>
        singleValues(field, at(fields, [...path, key])).flatMap(({ item, path: inside }) =>
          isObject(item) ? [[...path, key, ...inside]] : [],
        ),
      );
    },
    [[]],
  );
}

/** The holders of a field in an entry themselves. */
export const holdersOf = (type: Type | undefined, name: string, fields: JsonObject): readonly JsonObject[] => {
  if (!name.includes('.')) return [fields];
  if (!type) return [];
  return holderPaths(type, name, fields).map((path) => at(fields, path) as JsonObject);
};
