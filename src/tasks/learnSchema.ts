import path from 'node:path';
import { z } from 'zod';
import { type BuiltIn, builtInFacts, statuses } from '../core/definition/builtIn.ts';
import { contentFolder } from '../core/definition/workspace.ts';
import { fromJsonSchema } from '../core/learn/fromJsonSchema.ts';
import { fromTables } from '../core/learn/fromTables.ts';
import type { SchemaModel } from '../core/learn/schemaModel.ts';
import { compact, isList, isObject, type Json, type JsonObject } from '../core/plain/json.ts';
import { usualLimits } from '../core/plain/limits.ts';
import { humanize } from '../core/plain/words.ts';
import { writeYaml } from '../core/source/write.ts';
import { readYaml } from '../core/source/yaml.ts';
import { readTextOrRefuse, statOf } from '../workspace/files.ts';
import { makeFolder } from '../workspace/makeFolder.ts';
import { workspaceFile } from '../workspace/readFiles.ts';
import { Trouble } from '../workspace/trouble.ts';
import { tablesOfDatabase } from './learn/database.ts';
import { refuseUsed } from './learn/refuseUsed.ts';
import { schemaOfTypes } from './learn/typescript.ts';
import { writeWorkspace } from './learn/writeWorkspace.ts';
import { head, resultVersion } from './result.ts';

/** The result of `lumbrik learn`. */
export const LearnSchemaResult = z.strictObject({
  ...head('learn'),
  workspace: z.string(),
  files: z.array(z.string()),
  types: z.array(z.strictObject({ type: z.string(), fields: z.int() })),
  /** What the schema says and the model does not, and where. */
  unsaid: z.array(z.strictObject({ at: z.string(), says: z.string() })),
});
export type LearnSchemaResult = z.output<typeof LearnSchemaResult>;

/** The options of learning from a schema. */
export interface LearnSchemaCall {
  /** A file with a JSON Schema, an OpenAPI document or types of TypeScript. */
  readonly schema?: string | undefined;
  /** The address of a PostgreSQL, and the schema in it. */
  readonly database?: string | undefined;
  readonly inSchema: string;
  /** The folder that becomes a workspace. */
  readonly out: string;
}

/** Makes a workspace with the model that a schema of another language says. */
export async function learnSchema({
  schema,
  database,
  inSchema,
  out: outFile,
}: LearnSchemaCall): Promise<LearnSchemaResult> {
  const root = path.resolve(outFile);
  await refuseUsed(root, outFile);
  const model =
    database === undefined ? fromFile(schema ?? '') : fromTables(await tablesOfDatabase(database, inSchema));
  if (model.types.size === 0)
    throw new Trouble(
      'no-types',
      'nothing in it describes things with keys, and that is what types are made of',
      compact({
        mend:
          database === undefined
            ? 'Name a JSON Schema with `properties`, an OpenAPI document with components, or a file of TypeScript that exports interfaces.'
            : `There are no tables in its schema ${inSchema}: name another by --in-schema.`,
        where: schema === undefined ? undefined : { file: schema },
      }),
    );

  const facts = withoutFacts(model);
  const files = filesOf(facts, root);
  await writeWorkspace(root, files);
  makeFolder(path.join(root, contentFolder));

  return {
    lumbrik: resultVersion,
    command: 'learn',
    workspace: outFile,
    files: [...files.keys()],
    types: [...facts.types].map(([type, { fields }]) => ({
      type,
      fields: isObject(fields) ? Object.keys(fields).length : 0,
    })),
    unsaid: [...model.unsaid],
  };
}

/** @throws {Trouble} where the file is none of JSON, YAML or TypeScript. */
function fromFile(file: string): SchemaModel {
  const folder = path.dirname(path.resolve(file));
  // Only beside it or below it.
  const load = (name: string): Json | undefined => {
    const other = path.resolve(folder, name);
    if (other.startsWith(folder + path.sep) && statOf(other)?.isFile()) return dataIn(other, name);
    return undefined;
  };

  const name = path.basename(file).replace(/^\.?([^.]+).*$/u, '$1');
  if (!/\.[cm]?tsx?$/u.test(file)) return fromJsonSchema(dataIn(path.resolve(file), file), name, load);

  const { schema, unsaid } = schemaOfTypes(file);
  const model = fromJsonSchema(schema, name);

  return { ...model, unsaid: [...unsaid, ...model.unsaid] };
}

function dataIn(file: string, named: string): Json {
  const reading = readYaml(readTextOrRefuse(file, named, usualLimits), usualLimits);
  if ('value' in reading) return reading.value.data;

  const { says: message, mend, line, column } = reading.problem;
  throw new Trouble('unreadable', `${named} cannot be read: ${message}`, {
    mend,
    where: { file: named, line, column },
  });
}

interface WithFacts extends Pick<SchemaModel, 'types'> {
  /** What every entry would have of itself, and has otherwise here: these are fields. */
  readonly noFacts: readonly BuiltIn[];
}

/**
 * A model without the fields that say what every entry says of itself. The identifier is one; of the others those that hold
 * the same: where one type means something else by such a key, it is a field in all of them.
 */
function withoutFacts({ types }: SchemaModel): WithFacts {
  const fieldsIn = (definition: JsonObject): JsonObject => {
    if (!isObject(definition.fields)) return {};
    return definition.fields;
  };
  const definitions = [...types.values()].map(fieldsIn);
  const noFacts = builtInFacts.filter(
    (fact) => fact !== 'id' && definitions.some((fields) => fields[fact] !== undefined && !isFact(fact, fields[fact])),
  );
  const missingFacts = new Set<string>(builtInFacts.filter((fact) => !noFacts.includes(fact)));

  return {
    noFacts,
    types: new Map(
      [...types].map(([name, definition]) => [
        name,
        {
          ...definition,
          fields: Object.fromEntries(Object.entries(fieldsIn(definition)).filter(([key]) => !missingFacts.has(key))),
        },
      ]),
    ),
  };
}

function isFact(fact: BuiltIn, field: Json): boolean {
  if (!isObject(field) || field.many !== undefined) return false;
  if (fact === 'type') return false;
  if (fact === 'status')
    return isList(field.choices) && field.choices.every((choice) => (statuses as readonly Json[]).includes(choice));
  return field.kind === 'date' || field.kind === 'dateTime';
}

/** The files of the workspace. */
function filesOf({ types, noFacts }: WithFacts, root: string): ReadonlyMap<string, string> {
  const workspace = humanize(path.basename(root).replace(/[^\p{L}\p{N}]+/gu, '-')) || 'A workspace';
  return new Map([
    ...[...types].map(
      ([type, definition]) => [`model/types/${type}.yaml`, writeYaml({ type, ...definition })] as const,
    ),
    [
      workspaceFile,
      writeYaml(
        compact({
          workspace,
          languages: ['en'],
          builtIn: noFacts.length > 0 ? Object.fromEntries(noFacts.map((fact) => [fact, false])) : undefined,
        }),
      ),
    ],
  ]);
}
