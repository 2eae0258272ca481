import { keysOfFacts, statuses } from '../../definition/builtIn.ts';
import { wordsIn } from '../../definition/wording.ts';
import type { Type } from '../../model/link.ts';
import { isList, isObject, type Json, type JsonObject, mapValues } from '../../plain/json.ts';
import { capital } from '../../plain/words.ts';
import { entrySchema } from '../entrySchema.ts';
import type { Exported, ExportFormat } from './define.ts';

export const openapi: ExportFormat = {
  name: 'openapi',
  about: 'OpenAPI 3.1: how a service reads and writes the entries over HTTP',
  file: 'content.openapi.json',
  text: (exported) => `${JSON.stringify(documentOf(exported), undefined, 2)}\n`,
};

function documentOf({ workspace, model, types, factKeys, call }: Exported): JsonObject {
  const [id] = keysOfFacts(factKeys).flatMap(([fact, key]) => (fact === 'id' ? [key] : []));
  return {
    openapi: '3.1.0',
    info: {
      title: workspace,
      version: '1.0.0',
      description: `The entries of ${workspace}, to read and to write. Written by ${call}, and overwritten by it: not for editing.`,
    },
    jsonSchemaDialect: 'https://json-schema.org/draft/2020-12/schema',
    tags: types.map(({ name, label, definition }) => {
      const about = wordsIn(definition.about, model.readingOrder);
      return { name, description: about === undefined ? label.many : `${label.many}: ${about}` };
    }),
    paths: Object.fromEntries(types.flatMap(pathsOf)),
    components: {
      parameters,
      headers,
      responses: Object.fromEntries(
        problems.map(([name, , description]) => [
          name,
          {
            description,
            content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
          },
        ]),
      ),
      schemas: {
        ...Object.fromEntries(types.map((type) => [type.name, typeSchema(type, { model, factKeys, id })])),
        // The names of types begin with small letters.
        None: { description: 'No value: nothing, an empty text, list or group.', ...noneOf(types, model) },
        Problem: problemSchema,
      },
    },
  };
}

const parameters: JsonObject = {
  id: {
    name: 'id',
    in: 'path',
    required: true,
    description: 'The identifier of an entry among those of its type.',
    schema: { type: 'string', minLength: 1 },
  },
  first: {
    name: 'first',
    in: 'query',
    description: 'How many entries a page has at most.',
    schema: { type: 'integer', minimum: 1, maximum: 1000, default: 20 },
  },
  after: {
    name: 'after',
    in: 'query',
    description: 'What the page before says as `next`.',
    schema: { type: 'string' },
  },
  status: {
    name: 'status',
    in: 'query',
    description: 'Only entries of this status.',
    schema: { enum: [...statuses] },
  },
  ifMatch: {
    name: 'If-Match',
    in: 'header',
    description: 'The entity tag of the entry as it was read: an entry that somebody changed since is not overwritten.',
    schema: { type: 'string' },
  },
};

const headers: JsonObject = {
  ETag: { description: 'What stands for the entry as it is now (RFC 9110, 8.8.3).', schema: { type: 'string' } },
};

/** What goes wrong, by its name here, its status (RFC 9110) and in words. */
const problems: readonly (readonly [string, string, string])[] = [
  ['invalid', '422', 'The entry is not what its type says.'],
  ['missing', '404', 'There is no such entry.'],
  ['changed', '412', 'Somebody changed the entry since it was read.'],
  ['taken', '409', 'There is an entry with that identifier already.'],
];

const problemSchema: JsonObject = {
  description: 'What is wrong (RFC 9457).',
  type: 'object',
  properties: {
    type: { type: 'string' },
    title: { type: 'string' },
    status: { type: 'integer' },
    detail: { type: 'string' },
    findings: {
      description: 'What is wrong with the entry, value by value.',
      type: 'array',
      items: {
        type: 'object',
        required: ['finding', 'path', 'says'],
        properties: {
          finding: { type: 'string' },
          path: { description: 'Where (JSON Pointer, RFC 6901).', type: 'string' },
          says: { type: 'string' },
        },
      },
    },
  },
};

/** The schema of a type inside of a document: what all of them share is there once. */
function typeSchema(
  type: Type,
  { model, factKeys, id }: Pick<Exported, 'model' | 'factKeys'> & { readonly id: string | undefined },
): JsonObject {
  const { $schema: _, $defs: __, ...schema } = entrySchema(type, model, { factKeys });
  const example = exampleOf(type, id);
  return sharing({ ...schema, ...(example ? { examples: [example] } : {}) }) as JsonObject;
}

/** An entry made of the examples of its fields; none where something that has to be there has none. */
function exampleOf(type: Type, id: string | undefined): JsonObject | undefined {
  const fields = [...type.fields.values()].filter(({ common }) => common.when === undefined);
  const isWhole = fields.every(({ common }) => common.required === undefined || common.example !== undefined);
  const parameters = fields.flatMap(({ name, common }) =>
    common.example === undefined ? [] : [[name, common.example] as const],
  );

  if (isWhole && parameters.length > 0)
    return { ...(id === undefined ? {} : { [id]: 'an-identifier' }), ...Object.fromEntries(parameters) };
  return undefined;
}

function noneOf([type]: readonly Type[], model: Exported['model']): JsonObject {
  const { $defs } = type ? entrySchema(type, model) : { $defs: {} };
  const none = isObject($defs) ? $defs.none : undefined;
  if (isObject(none)) return none;
  return {};
}

function sharing(schema: Json): Json {
  if (isList(schema)) return schema.map(sharing);
  if (!isObject(schema)) return schema;
  if (schema.$ref === '#/$defs/none') return { ...schema, $ref: '#/components/schemas/None' };
  return mapValues(schema, sharing);
}

/* ── paths ───────────────────────────────────────────────────────────────────────────────────────────────────── */

const pathsOf = (type: Type): readonly (readonly [string, JsonObject])[] => {
  if (type.definition.single) return [[`/${type.name}`, { get: read(type, []), put: replace(type, []) }]];
  return [
    [`/${type.name}`, { get: listAll(type), post: create(type) }],
    [
      `/${type.name}/{id}`,
      {
        parameters: [parameter('id')],
        get: read(type, ['missing']),
        put: replace(type, ['missing']),
        delete: remove(type),
      },
    ],
  ];
};

const parameter = (name: string): JsonObject => ({ $ref: `#/components/parameters/${name}` });

const entryRef = ({ name }: Type): JsonObject => ({ $ref: `#/components/schemas/${name}` });

const inJson = (schema: JsonObject): JsonObject => ({ 'application/json': { schema } });

const etag: JsonObject = { ETag: { $ref: '#/components/headers/ETag' } };

const operation = (verb: string, type: Type, summary: string): JsonObject => ({
  operationId: `${verb}${capital(type.name)}`,
  summary,
  tags: [type.name],
});

const wrong = (...names: readonly string[]): JsonObject =>
  Object.fromEntries(
    problems.flatMap(([name, status]) =>
      names.includes(name) ? [[status, { $ref: `#/components/responses/${name}` }]] : [],
    ),
  );

const listAll = (type: Type): JsonObject => ({
  ...operation('list', type, `List ${type.label.many}`),
  parameters: ['first', 'after', 'status'].map(parameter),
  responses: {
    '200': {
      description: `A page of ${type.label.many}.`,
      content: inJson({
        type: 'object',
        required: ['items', 'total'],
        properties: {
          items: { type: 'array', items: entryRef(type) },
          total: { description: 'How many there are altogether.', type: 'integer' },
          next: { description: 'What to say as `after` for the next page; absent on the last one.', type: 'string' },
        },
      }),
    },
  },
});

const create = (type: Type): JsonObject => ({
  ...operation('create', type, `Add one to the ${type.label.many}`),
  requestBody: { required: true, content: inJson(entryRef(type)) },
  responses: {
    '201': { description: 'It is added.', headers: etag, content: inJson(entryRef(type)) },
    ...wrong('taken', 'invalid'),
  },
});

const read = (type: Type, problem: readonly string[]): JsonObject => ({
  ...operation(
    'read',
    type,
    `Read ${type.definition.single ? 'the' : 'one of the'} ${type.definition.single ? type.label.one : type.label.many}`,
  ),
  responses: {
    '200': { description: 'The entry.', headers: etag, content: inJson(entryRef(type)) },
    ...wrong(...problem),
  },
});

const replace = (type: Type, problem: readonly string[]): JsonObject => ({
  ...operation(
    'replace',
    type,
    `Write ${type.definition.single ? 'the' : 'one of the'} ${type.definition.single ? type.label.one : type.label.many} anew`,
  ),
  parameters: [parameter('ifMatch')],
  requestBody: { required: true, content: inJson(entryRef(type)) },
  responses: {
    '200': { description: 'It is written.', headers: etag, content: inJson(entryRef(type)) },
    ...wrong(...problem, 'changed', 'invalid'),
  },
});

const remove = (type: Type): JsonObject => ({
  ...operation('delete', type, `Remove one of the ${type.label.many}`),
  parameters: [parameter('ifMatch')],
  responses: { '204': { description: 'It is gone.' }, ...wrong('missing', 'changed') },
});
