import { z } from 'zod';
import { commonOptions } from '../definition/field.ts';
import { KindFile, KitFile } from '../definition/shared.ts';
import { ContentTermsFile, TaxonomyFile, TermEntry } from '../definition/taxonomy.ts';
import { TypeFile } from '../definition/type.ts';
import { WorkspaceFile } from '../definition/workspace.ts';
import type { Kind } from '../kinds/define.ts';
import { kinds } from '../kinds/index.ts';
import { MigrationFile, questionShape } from '../migration/read.ts';
import { steps } from '../migration/steps/index.ts';
import { isList, isObject, type Json, type JsonObject, mapValues } from '../plain/json.ts';

/** The kinds of files that a model is made of, with the folder that each is in. */
const fileKinds = ['workspace', 'type', 'kit', 'field', 'kind', 'taxonomy', 'terms', 'migration'] as const;
/** A kind of file of a workspace that has a schema. */
export type FileKind = (typeof fileKinds)[number];

let schemas: Readonly<Record<FileKind, JsonObject>> | undefined;

/** The JSON Schema (draft 2020-12) of each kind of file in a workspace, made once from the schemas that read them. */
export function fileSchemas(): Readonly<Record<FileKind, JsonObject>> {
  schemas ??= makeSchemas();
  return schemas;
}

function makeSchemas(): Readonly<Record<FileKind, JsonObject>> {
  const field = { field: fieldSchema(), ...commonSchemas() };
  const term = { term: termSchema() };

  return {
    workspace: schemaOf(WorkspaceFile, 'A Lumbrik workspace'),
    type: withParts(schemaOf(TypeFile, 'A type of a Lumbrik model'), { fields: fieldsRef }, field),
    kit: withParts(schemaOf(KitFile, 'A kit of a Lumbrik model'), { fields: fieldsRef }, field),
    field: { ...withParts({}, {}, field), title: 'A shared field of a Lumbrik model', anyOf: sharedFieldSchemas() },
    kind: schemaOf(KindFile, 'A kind of its own of a Lumbrik model'),
    taxonomy: withParts(schemaOf(TaxonomyFile, 'A taxonomy of a Lumbrik model'), { terms: termsRef }, term),
    terms: withParts(schemaOf(ContentTermsFile, 'The terms of an open taxonomy'), { terms: termsRef }, term),
    migration: withParts(
      schemaOf(MigrationFile, 'A Lumbrik migration'),
      { steps: { type: 'array', items: { anyOf: stepSchemas() } } },
      {},
    ),
  };
}

const fieldRef = { $ref: '#/$defs/field' };
const fieldsRef = { type: ['object', 'null'], additionalProperties: { $ref: '#/$defs/field' } };
const termsRef = { type: ['array', 'null'], items: { $ref: '#/$defs/term' } };

const schemaOf = (schema: z.ZodType, title: string): JsonObject => ({ title, ...plain(schema) });

/** A schema as it reads the written text, not the outcome for it. */
function plain(schema: z.ZodType): JsonObject {
  const written = z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any', reused: 'inline' });
  const { $defs: _, ...rest } = anyJson(written as unknown as JsonObject) as JsonObject;
  return rest;
}

/** What may be any JSON is stated by a schema that lets everything pass, not by one that describes JSON. */
function anyJson(schema: Json): Json {
  if (isList(schema)) return schema.map(anyJson);
  if (!isObject(schema)) return schema;
  const { $ref: target, ...rest } = schema;
  const isJson = typeof target === 'string' && target.startsWith('#/$defs/__schema');
  return mapValues(isJson ? rest : schema, anyJson);
}

/** The same without its own header, to stand inside another. */
function inner(schema: z.ZodType): JsonObject {
  const { $schema: _, ...rest } = plain(schema);
  return rest;
}

function withParts(schema: JsonObject, parts: JsonObject, defs: JsonObject): JsonObject {
  const properties = isObject(schema.properties) ? schema.properties : {};
  const definitions = isObject(schema.$defs) ? schema.$defs : {};
  return { ...schema, properties: { ...properties, ...parts }, $defs: { ...definitions, ...defs } };
}

/** A field as it can be written: of a kind of the language, of one's own, made of a shared field, or narrowed. */
function fieldSchema(): JsonObject {
  const ownSchema = {
    type: 'object',
    required: ['kind'],
    properties: { kind: { type: 'string', not: { enum: [...kinds.keys()] } } },
  };
  const use = {
    type: 'object',
    required: ['use'],
    properties: { use: { type: 'string' } },
    not: { required: ['kind'] },
  };
  const narrowed = { type: 'object', not: { anyOf: [{ required: ['kind'] }, { required: ['use'] }] } };

  return { anyOf: [...[...kinds.values()].map(ofKind), ownSchema, use, narrowed] };
}

/** The file of a shared field: a field of some kind, with its name. */
const sharedFieldSchemas = (): readonly JsonObject[] =>
  [...kinds.values()].map(ofKind).map(({ properties, required, ...schema }) => ({
    ...schema,
    properties: { $schema: { type: 'string' }, field: { type: 'string' }, ...(isObject(properties) ? properties : {}) },
    required: ['field', ...(isList(required) ? required : [])],
  }));

function ofKind(kind: Kind): JsonObject {
  const schema = inner(z.strictObject({ kind: z.literal(kind.name).describe(kind.about), ...kind.shape }));
  const shared = Object.keys(commonOptions).map((option) => [option, { $ref: `#/$defs/${option}` }]);
  const properties = isObject(schema.properties) ? schema.properties : {};
  const needed = isList(schema.required) ? schema.required : [];

  return {
    ...schema,
    ...(kind.nests
      ? {
          required: needed.filter((key) => key !== 'fields'),
          anyOf: [{ required: ['fields'] }, { required: ['kits'] }],
        }
      : {}),
    properties: {
      ...Object.fromEntries(shared),
      ...properties,
      ...(kind.nests ? { fields: { ...described(properties.fields), ...fieldsRef }, kits: kitsSchema } : {}),
      ...(kind.maps ? { keys: fieldRef, value: fieldRef } : {}),
    },
  };
}

/** What an object says beside its fields: it is made whole before it is read as a kind. */
const kitsSchema = { description: 'The kits whose fields it has too.', type: 'array', items: { type: 'string' } };

const described = (schema: Json | undefined): JsonObject => {
  if (isObject(schema) && schema.description !== undefined) return { description: schema.description };
  return {};
};

/** What every field may say, each by its name, so that it is stated once. */
function commonSchemas(): JsonObject {
  const { properties } = inner(z.strictObject(commonOptions));
  if (isObject(properties)) return properties;
  return {};
}

function termSchema(): JsonObject {
  const { anyOf } = inner(TermEntry);
  const alternatives = Array.isArray(anyOf) ? anyOf : [];
  return {
    anyOf: alternatives.map((alternative: JsonObject) =>
      isObject(alternative.properties) && Object.hasOwn(alternative.properties, 'terms')
        ? { ...alternative, properties: { ...alternative.properties, terms: termsRef } }
        : alternative,
    ),
  };
}

const stepSchemas = (): readonly JsonObject[] =>
  [...steps.values()].map(({ shape }) => inner(z.strictObject({ ...shape, ...questionShape })));
