import { type BuiltInNames, keysOfFacts, statuses, usualFactKeys } from '../definition/builtIn.ts';
import { wordsIn } from '../definition/wording.ts';
import { askedLanguages, isAskedOncePublished } from '../model/languages.ts';
import type { Field, Model, Type } from '../model/link.ts';
import { compact, type JsonObject, ownValue } from '../plain/json.ts';
import { shapeSchema } from './shapeSchema.ts';

const draft = 'https://json-schema.org/draft/2020-12/schema';
/** When something happened, as entries say it of themselves: a day, or a date-time of RFC 3339. */
export const factTime =
  '^\\d{4}-(?:0[1-9]|1[0-2])-(?:0[1-9]|[12]\\d|3[01])(?:[Tt ](?:[01]\\d|2[0-3]):[0-5]\\d:(?:[0-5]\\d|60)(?:\\.\\d+)?(?:[Zz]|[+-]\\d{2}:\\d{2}))?$';

/** What counts as no value: nothing, an empty text, list or group. */
const none = { anyOf: [{ enum: [null, ''] }, { type: 'array', maxItems: 0 }, { type: 'object', maxProperties: 0 }] };
const noneRef: JsonObject = { $ref: '#/$defs/none' };

/** What counts as no value of a field. */
const noneOf = ({ common }: Field): JsonObject => {
  if (!common.mayBeEmpty) return noneRef;
  return { enum: [null] };
};

/** How a schema of entries is made. */
interface SchemaOptions {
  /** What the workspace, and each store that calls it otherwise, calls what every entry has. */
  readonly factKeys?: readonly BuiltInNames[];
  /** What each store calls fields, where it calls them otherwise. */
  readonly stores?: readonly NamesInStore[];
  /** Whether it is for files as people write them: in Markdown the body stands below what a schema looks at. */
  readonly isOfFiles?: boolean;
}

/**
 * The entries of a type as JSON Schema (draft 2020-12): their shape, as far as it can be stated of one entry alone. Labels
 * become titles, help texts descriptions. Fields required once published are required in published entries.
 */
export function entrySchema(
  type: Type,
  model: Model,
  { factKeys = [usualFactKeys], stores = [], isOfFiles = false }: SchemaOptions = {},
): JsonObject {
  const { languages } = model.definition;
  const allFields = [...type.fields.values()];
  const fields = allFields.flatMap((field) => asStored(field, stores));
  const stored = allFields.filter((field) => !isOfFiles || field !== type.body).map((field) => asStored(field, stores));
  // A condition over other fields cannot be stated here, nor that a field is there under one key or another.
  const required = stored
    .flatMap((keys) => (keys.length === 1 ? keys : []))
    .filter(({ common }) => common.when === undefined);
  const always = required.filter(({ common }) => common.required === true);
  const published = required.filter(({ common }) => isAskedOncePublished(common, model.definition));
  const facts = keysOfFacts(factKeys).filter(([, key]) => !type.fields.has(key));
  const reserved = Object.fromEntries(facts.map(([fact, key]) => [key, reservedSchema(fact)]));
  const whenPublished = facts.flatMap(([fact, key]) =>
    fact === 'status' ? [[key, { enum: ['published', null] }] as const] : [],
  );
  const about = wordsIn(type.definition.about, languages);

  return compact({
    $schema: draft,
    title: type.label.one,
    description: about,
    type: 'object',
    properties: {
      $schema: { type: 'string' },
      ...reserved,
      ...Object.fromEntries(fields.map((field) => [field.name, fieldSchema(field, model)])),
    },
    additionalProperties: false,
    ...demand(always, model, true),
    ...(published.length > 0
      ? {
          // Where no entry says its status, each counts as published: of no properties all holds.
          if: { properties: Object.fromEntries(whenPublished) },
          // biome-ignore lint/suspicious/noThenProperty: the keyword of JSON Schema.
          then: demand(published, model, false),
        }
      : {}),
    $defs: { none },
  });
}

/** What a store calls otherwise than the workspace. */
interface NamesInStore {
  readonly fields?: Readonly<Record<string, string>> | undefined;
}

/** A field under each key that holds it in some store. */
function asStored(field: Field, stores: readonly NamesInStore[]): readonly Field[] {
  const keys = new Set(stores.map(({ fields = {} }) => ownValue(fields, field.name) ?? field.name));
  if (keys.size === 0) return [field];
  return [...keys].map((name) => (name === field.name ? field : { ...field, name }));
}

/** That fields have a value, and one in each language that asks for it. */
function demand(fields: readonly Field[], model: Model, isAlways: boolean): JsonObject {
  if (fields.length === 0) return {};

  const languages = askedLanguages(model.definition)
    .filter(({ required }) => !isAlways || required === true)
    .map(({ language }) => language);

  const schemaOf = (field: Field): JsonObject => {
    const filled = { not: noneOf(field) };
    if (!field.common.localized) return filled;
    return {
      allOf: [
        { not: noneRef },
        {
          anyOf: [
            { not: { type: 'object' } },
            {
              required: languages,
              properties: Object.fromEntries(languages.map((language) => [language, filled])),
            },
          ],
        },
      ],
    };
  };

  return {
    required: fields.map(({ name }) => name),
    allOf: [{ properties: Object.fromEntries(fields.map((field) => [field.name, schemaOf(field)])) }],
  };
}

function reservedSchema(name: string): JsonObject {
  if (name === 'status') return { enum: [...statuses] };
  if (name === 'type') return { type: 'string' };
  if (name === 'id') return { type: ['string', 'number'] };
  return { anyOf: [noneRef, { type: 'string', pattern: factTime }] };
}

function fieldSchema(field: Field, model: Model): JsonObject {
  const { common, label } = field;
  const { languages } = model.definition;
  const help = [wordsIn(common.help, languages), common.when && `Only where ${common.when}.`].filter(Boolean).join(' ');
  const single = singleSchema(field, model);
  const value = common.many ? manySchema(single, common.many) : single;
  const schema = common.localized
    ? {
        type: 'object',
        properties: Object.fromEntries(languages.map((language) => [language, { anyOf: [noneOf(field), value] }])),
        additionalProperties: false,
      }
    : value;

  return compact({
    title: label,
    description: help === '' ? undefined : help,
    default: common.default,
    examples: common.example === undefined ? undefined : [common.example],
    readOnly: common.computed === undefined ? undefined : true,
    anyOf: [common.localized ? noneRef : noneOf(field), schema],
  });
}

function singleSchema(field: Field, model: Model): JsonObject {
  const { kind, options, fields } = field;
  if (kind.maps) return mapSchema(field, model);
  if (!kind.nests) return shapeSchema(kind.stores(options, model.context));

  const inner = [...fields];
  const always = inner.filter(([, { common }]) => common.required === true);

  return {
    type: 'object',
    properties: Object.fromEntries(inner.map(([name, field]) => [name, fieldSchema(field, model)])),
    additionalProperties: false,
    ...(always.length > 0
      ? {
          required: always.map(([name]) => name),
          allOf: [{ properties: Object.fromEntries(always.map(([name, field]) => [name, { not: noneOf(field) }])) }],
        }
      : {}),
  };
}

/** A group of keys that are data: the keys have a schema. */
function mapSchema({ fields, options }: Field, model: Model): JsonObject {
  const [keys, value] = [fields.get('keys'), fields.get('value')];
  return compact({
    type: 'object',
    propertyNames: keys && singleSchema(keys, model),
    additionalProperties: value && fieldSchema(value, model),
    minProperties: ownValue(options, 'min'),
    maxProperties: ownValue(options, 'max'),
  });
}

const manySchema = (items: JsonObject, many: NonNullable<Field['common']['many']>): JsonObject => {
  if (many.orOne && (many.min ?? 0) < 2) return { anyOf: [items, listSchema(items, many)] };
  return listSchema(items, many);
};

const listSchema = (items: JsonObject, { min, max, distinct }: NonNullable<Field['common']['many']>): JsonObject =>
  compact({ type: 'array', items, minItems: min, maxItems: max, uniqueItems: distinct });
