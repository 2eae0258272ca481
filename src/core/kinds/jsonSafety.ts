import { format } from '@cfworker/json-schema';
import { patternOf } from '../patterns/pattern.ts';
import { isList, isObject, type Json, type JsonObject, mapValues } from '../plain/json.ts';

/**
 * What makes a JSON Schema of a model safe to run on values that anybody may write. The validator walks a schema as it
 * stands; here it is rewritten so that patterns go through our own engine, whose time is linear, and so that each visit
 * of a part of it can be counted.
 */

/** A schema was visited more often than is allowed. */
export class SchemaTooCostly extends Error {
  override readonly name = 'SchemaTooCostly';
}

/** How often parts of a schema may be visited for one value. */
const mostVisits = 200_000;

/** Counts visits of a schema's parts, from nought for each value. */
export class Visits {
  #count = 0;

  start(): void {
    this.#count = 0;
  }

  /** @throws {SchemaTooCostly} */
  add(): void {
    this.#count += 1;
    if (this.#count > mostVisits) throw new SchemaTooCostly('the schema leads round and round');
  }
}

const single = [
  'not',
  'if',
  'then',
  'else',
  'items',
  'contains',
  'additionalProperties',
  'propertyNames',
  'unevaluatedItems',
  'unevaluatedProperties',
] as const;
const listed = ['allOf', 'anyOf', 'oneOf', 'prefixItems'] as const;
const named = ['properties', 'patternProperties', '$defs', 'definitions', 'dependentSchemas'] as const;

/** The names of formats that draft 2020-12 defines (Validation, section 7.3). All others say nothing, as it allows. */
const formats = new Set(
  'date-time date time duration email idn-email hostname idn-hostname ipv4 ipv6 uri uri-reference iri iri-reference uuid uri-template json-pointer relative-json-pointer regex'.split(
    ' ',
  ),
);

/** What a format of ours starts with: the pattern follows. */
const patternFormat = 'pattern ';

/** A schema that can be run: see above. */
export function safeSchema(schema: Json, visits: Visits): Json {
  if (!isObject(schema)) return schema;

  const inner = (value: Json): Json => safeSchema(value, visits);
  const { pattern, format: name, ...rest } = mapParts(schema, inner);
  const safe: Record<string, Json> = rest;
  if (name !== undefined && formats.has(String(name))) safe.format = name;
  if (typeof pattern === 'string') safe.allOf = [...listOf(safe.allOf), patternSchema(pattern, visits)];
  return counted(safe, visits);
}

/** A copy of a schema in which each schema inside it went through a function. */
function mapParts(schema: JsonObject, change: (part: Json) => Json): Record<string, Json> {
  const mapped = ([key, value]: readonly [string, Json]): readonly [string, Json] => {
    if (isOneOf(key, single)) return [key, change(value)];
    if (isOneOf(key, listed) && isList(value)) return [key, value.map(change)];
    if (isOneOf(key, named) && isObject(value)) return [key, mapValues(value, change)];
    return [key, value];
  };

  return Object.fromEntries(Object.entries(schema).map(mapped));
}

const isOneOf = <T extends string>(key: string, keys: readonly T[]): key is T =>
  (keys as readonly string[]).includes(key);
const listOf = (value: Json | undefined): readonly Json[] => {
  if (isList(value)) return value;
  return [];
};

/** A pattern as a format, which is the one thing that the validator lets others define. */
function patternSchema(pattern: string, visits: Visits): JsonObject {
  const name = `${patternFormat}${pattern}`;
  format[name] = (text: string) => patternOf(pattern).test(text);
  return counted({ format: name }, visits);
}

/** The validator looks at every keyword of a part that it visits, once a visit; this one belongs to an older draft. */
function counted(schema: Record<string, Json>, visits: Visits): JsonObject {
  Object.defineProperty(schema, '$recursiveAnchor', { enumerable: false, get: () => visits.add() });
  return schema;
}

/** The keyword that an error is about, as the schema of the model says it. */
export const keywordOf = (keyword: string, error: string): string => {
  if (keyword === 'format' && error.includes(`"${patternFormat}`)) return 'pattern';
  return keyword;
};

/** Whether a schema says anything about keys that match a pattern. */
export const hasKeyPatterns = (schema: Json): boolean => JSON.stringify(schema).includes('"patternProperties"');

/**
 * A safe schema in which the rules for keys that match a pattern become rules for the keys of a value: the same
 * to every other keyword.
 */
export function withKeysOf(schema: Json, value: Json, visits: Visits): Json {
  const keys = new Set<string>();
  gatherKeys(value, keys);
  return namingKeys(schema, [...keys], visits);
}

function namingKeys(schema: Json, keys: readonly string[], visits: Visits): Json {
  if (!isObject(schema)) return schema;

  const inner = (value: Json): Json => namingKeys(value, keys, visits);
  const safe = mapParts(schema, inner);
  const { patternProperties, properties } = safe;

  if (isObject(patternProperties)) {
    delete safe.patternProperties;
    const schemasByKey = new Map<string, Json[]>(
      Object.entries(isObject(properties) ? properties : {}).map(([key, value]) => [key, [value]]),
    );

    for (const [pattern, schema] of Object.entries(patternProperties))
      for (const key of keys.filter((name) => patternOf(pattern).test(name)))
        schemasByKey.set(key, [...(schemasByKey.get(key) ?? []), schema]);

    const combined = ([key, schemas]: readonly [string, readonly Json[]]) =>
      [key, schemas.length === 1 ? schemas[0] : counted({ allOf: schemas }, visits)] as const;
    safe.properties = Object.fromEntries([...schemasByKey].map(combined)) as JsonObject;
  }

  return counted(safe, visits);
}

function gatherKeys(value: Json, keys: Set<string>): void {
  if (isList(value)) for (const item of value) gatherKeys(item, keys);
  else if (isObject(value))
    for (const [key, item] of Object.entries(value)) {
      keys.add(key);
      gatherKeys(item, keys);
    }
}

/** A value whose objects inherit nothing: the validator would take inherited keys (`constructor`) for their own. */
export function bare(value: Json): Json {
  if (isList(value)) return value.map(bare);
  if (!isObject(value)) return value;
  const plain: Record<string, Json> = Object.create(null);
  for (const [key, item] of Object.entries(value)) plain[key] = bare(item);
  return plain;
}
