import { compilePattern } from '../patterns/pattern.ts';
import { isList, isObject, type Json, type Path } from '../plain/json.ts';
import { didYouMean } from '../plain/nearest.ts';
import { list, quote } from '../plain/words.ts';

/** A problem in a JSON Schema, with its place. */
export interface SchemaMistake {
  readonly inside: Path;
  readonly says: string;
  readonly mend: string;
  /** That the key itself is wrong, not its content. */
  readonly atKey?: true;
}

type Mistakes = Iterable<SchemaMistake>;
type Judge = (value: Json, inside: Path) => Mistakes;

const types = ['null', 'boolean', 'object', 'array', 'number', 'string', 'integer'];

/** A judge that takes every value of one form. */
const must =
  (holds: (value: Json) => boolean, expected: string): Judge =>
  (value, inside) =>
    holds(value) ? [] : [{ inside, says: `is ${quote(value)}, not ${expected}`, mend: `Write ${expected}.` }];

const isString = (value: Json): boolean => typeof value === 'string';
const isNameList = (value: Json): boolean =>
  isList(value) && value.every(isString) && new Set(value).size === value.length;

const anything: Judge = () => [];
const text = must(isString, 'a text');
const truth = must((value) => typeof value === 'boolean', 'true or false');
const number = must((value) => typeof value === 'number', 'a number');
const size = must((value) => Number.isInteger(value) && Number(value) >= 0, 'a whole number of at least 0');
const names = must(isNameList, 'a list of names, each once');

const type: Judge = (value, inside) => {
  const wrong = (isList(value) ? value : [value]).filter((value) => !types.includes(String(value)));
  return wrong.slice(0, 1).map((value) => ({
    inside,
    says: `is ${quote(value)}, and there is no such type`,
    mend: didYouMean(String(value), types) ?? `Write ${list(types, 'or')}.`,
  }));
};

const reference: Judge = (value, inside) => {
  if (typeof value !== 'string') return text(value, inside);
  if (value.startsWith('#')) return [];
  const mend = 'Put what it refers to into `$defs`, and refer to it as #/$defs/….';
  return [{ inside, says: `refers to ${quote(value)}, and nothing is fetched from anywhere`, mend }];
};

const pattern: Judge = (value, inside) => {
  if (typeof value !== 'string') return text(value, inside);
  const compiled = compilePattern(value);
  if ('value' in compiled) return [];
  const { says: message, mend } = compiled.problem;
  return [{ inside, says: `is ${quote(value)}, which ${message}`, mend }];
};

const schemas: Judge = function* (value, inside) {
  if (!isList(value) || value.length === 0)
    yield { inside, says: `is ${quote(value)}, not a list of schemas`, mend: 'Write [ …, … ].' };
  else for (const [index, item] of value.entries()) yield* mistakesInSchema(item, [...inside, index]);
};

const schemasByName: Judge = function* (value, inside) {
  if (!isObject(value)) yield { inside, says: `is ${quote(value)}, not schemas by name`, mend: 'Write { name: … }.' };
  else for (const [name, item] of Object.entries(value)) yield* mistakesInSchema(item, [...inside, name]);
};

const schemasByPattern: Judge = function* (value, inside) {
  if (isObject(value)) for (const name of Object.keys(value)) yield* pattern(name, [...inside, name]);
  yield* schemasByName(value, inside);
};

const items: Judge = (value, inside) => {
  if (isList(value))
    return [
      { inside, says: 'holds a list', mend: 'Call it `prefixItems`: `items` is one schema, for all that follow.' },
    ];
  return mistakesInSchema(value, inside);
};

/** The keywords of JSON Schema, draft 2020-12 (Core, sections 8, 10 and 11; Validation, sections 6 to 9). */
const keywords: ReadonlyMap<string, Judge> = new Map(
  Object.entries({
    $id: text,
    $schema: text,
    $ref: reference,
    $anchor: text,
    $dynamicRef: reference,
    $dynamicAnchor: text,
    $vocabulary: must(isObject, 'vocabularies by address'),
    $comment: text,
    $defs: schemasByName,
    definitions: schemasByName,
    allOf: schemas,
    anyOf: schemas,
    oneOf: schemas,
    not: mistakesInSchema,
    if: mistakesInSchema,
    // biome-ignore lint/suspicious/noThenProperty: it is a keyword, and this is no promise.
    then: mistakesInSchema,
    else: mistakesInSchema,
    dependentSchemas: schemasByName,
    prefixItems: schemas,
    items,
    contains: mistakesInSchema,
    properties: schemasByName,
    patternProperties: schemasByPattern,
    additionalProperties: mistakesInSchema,
    propertyNames: mistakesInSchema,
    unevaluatedItems: mistakesInSchema,
    unevaluatedProperties: mistakesInSchema,
    type,
    enum: must(isList, 'a list of values'),
    const: anything,
    multipleOf: must((value) => typeof value === 'number' && value > 0, 'a number above 0'),
    maximum: number,
    exclusiveMaximum: number,
    minimum: number,
    exclusiveMinimum: number,
    maxLength: size,
    minLength: size,
    pattern,
    maxItems: size,
    minItems: size,
    uniqueItems: truth,
    maxContains: size,
    minContains: size,
    maxProperties: size,
    minProperties: size,
    required: names,
    dependentRequired: must(
      (value) => isObject(value) && Object.values(value).every(isNameList),
      'lists of names by name',
    ),
    format: text,
    contentEncoding: text,
    contentMediaType: text,
    contentSchema: mistakesInSchema,
    title: text,
    description: text,
    default: anything,
    deprecated: truth,
    readOnly: truth,
    writeOnly: truth,
    examples: must(isList, 'a list of values'),
    // Known in other dialects, and harmless: only an unknown keyword may be a slip of the pen.
    example: anything,
  } satisfies Record<string, Judge>),
);

/**
 * The problems of a JSON Schema itself, each with its place. Keywords that the draft does not know are allowed, as it
 * says, unless one is so near to another that it will be a slip of the pen.
 */
export function* mistakesInSchema(schema: Json, inside: Path = []): Mistakes {
  if (typeof schema === 'boolean') return;
  if (!isObject(schema)) {
    yield { inside, says: `is ${quote(schema)}, not a schema`, mend: 'Write a schema: { type: … }, true or false.' };
    return;
  }

  for (const [keyword, value] of Object.entries(schema)) {
    const judge = keywords.get(keyword);
    const near = judge ? '' : didYouMean(keyword, keywords);
    if (judge) yield* judge(value, [...inside, keyword]);
    else if (near) yield { inside: [...inside, keyword], says: 'is no keyword', mend: near, atKey: true };
  }
}
