import { compact, equal, isList, isObject, type Json, type JsonObject } from '../plain/json.ts';
import { humanize } from '../plain/words.ts';

/** Options of a list that may be one value. */
export const orOne: JsonObject = { many: { orOne: true } };

/** Two parts of what a schema says in one. */
export function merged(a: JsonObject, b: JsonObject): JsonObject {
  const [first, second] = [object(a.properties), object(b.properties)];
  const combined = Object.keys(second).map((key) => {
    const [a, other] = [first[key], second[key]];
    return [key, isObject(a) && isObject(other) ? merged(a, other) : (other ?? null)] as const;
  });
  const properties =
    isObject(a.properties) || isObject(b.properties) ? { ...first, ...Object.fromEntries(combined) } : undefined;
  const required = isList(a.required) || isList(b.required) ? [...list(a.required), ...list(b.required)] : undefined;
  return compact({ ...a, ...b, properties, required });
}

/** Several forms of an object in one: what a key holds in any of them. */
export function alternatives(forms: readonly JsonObject[], rest: JsonObject): JsonObject {
  const held = new Map<string, Json[]>();
  for (const { properties } of forms.map((form) => merged(rest, form)))
    for (const [key, property] of Object.entries(object(properties))) {
      const existing = held.get(key) ?? [];
      held.set(key, existing.some((other) => equal(other, property)) ? existing : [...existing, property]);
    }

  const properties = Object.fromEntries(
    [...held].map(([key, schemas]) => [key, schemas.length === 1 ? (schemas[0] ?? null) : { anyOf: schemas }]),
  );

  return { ...forms.reduce(merged, rest), properties };
}

/** What each of some forms asks for. */
export const requiredInAll = ([first, ...rest]: readonly JsonObject[]): readonly Json[] =>
  list(first?.required).filter((key) => rest.every(({ required }) => list(required).includes(key)));

/** The value if it is an object, or an empty one. */
export const object = (value: Json | undefined): JsonObject => {
  if (isObject(value)) return value;
  return {};
};

/** The value if it is a list, or an empty one. */
export const list = (value: Json | undefined): readonly Json[] => {
  if (isList(value)) return value;
  return [];
};

/** The values of an object whose keys are data. */
export function mapValue({ additionalProperties, patternProperties }: JsonObject): JsonObject | undefined {
  if (isObject(additionalProperties)) return additionalProperties;
  const [only, ...rest] = Object.values(object(patternProperties));
  if (isObject(only) && rest.length === 0) return only;
  return undefined;
}

/** The references (`$ref`) inside a schema. */
export function* refsIn(schema: Json): Iterable<string> {
  if (typeof schema !== 'object' || schema === null) return;
  if (isObject(schema) && typeof schema.$ref === 'string') yield schema.$ref;
  for (const value of Object.values(schema)) yield* refsIn(value as Json);
}

/** What people read of a field: its title where that is no more than its name, and its description. */
export function labelled({ title, description, deprecated }: JsonObject, address: string): JsonObject {
  const key = address.slice(address.lastIndexOf('.') + 1);
  const label =
    typeof title === 'string' && title.trim() !== '' && title !== key && title !== humanize(key) ? title : undefined;
  const words = [typeof description === 'string' ? description.trim() : '', deprecated === true ? 'Deprecated.' : ''];
  return compact({ label, help: words.filter(Boolean).join(' ') || undefined });
}

/** The description of a schema as `about`. */
export const about = ({ description }: JsonObject): JsonObject => {
  if (typeof description === 'string' && description.trim() !== '') return { about: description.trim() };
  return {};
};

/** What new entries start with, where that is a plain value. */
export const plainDefault = (value: Json | undefined): Json | undefined => {
  if (typeof value === 'string' || typeof value === 'number' || typeof value === 'boolean') return value || undefined;
  return undefined;
};

/** The label of a type whose name differs from the schema's. */
export const labelOf = (name: string, type: string): JsonObject => {
  if (humanize(type) === name || name.toLowerCase() === type.toLowerCase()) return {};
  return { label: { one: name, many: name } };
};

/** A percent-encoded text decoded, or unchanged if it is malformed. */
export function decoded(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
}
