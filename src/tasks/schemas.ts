import fs from 'node:fs';
import path from 'node:path';
import { z } from 'zod';
import { entrySchema } from '../core/export/entrySchema.ts';
import { type FileKind, fileSchemas } from '../core/export/fileSchemas.ts';
import { isObject } from '../core/plain/json.ts';
import { anySize } from '../core/plain/limits.ts';
import { unixLines } from '../core/plain/lineEnds.ts';
import { readYaml } from '../core/source/yaml.ts';
import { changeFiles, type WantedChange } from '../journal/change.ts';
import { listFiles, readText } from '../workspace/files.ts';
import type { Workspace } from '../workspace/open.ts';
import { workspaceFile } from '../workspace/readFiles.ts';
import type { Call } from './call.ts';
import { writing } from './openForCall.ts';
import { head, resultVersion } from './result.ts';

/** The result of `lumbrik schemas`. */
export const SchemasResult = z.strictObject({
  ...head('schemas'),
  /** Whether the schemas on the disk were as they should be. */
  current: z.boolean(),
  written: z.array(z.string()),
  removed: z.array(z.string()),
  /** Files that name their schema from now on. */
  named: z.array(z.string()),
});
export type SchemasResult = z.output<typeof SchemasResult>;

/** The options of writing schemas. */
export interface SchemasCall {
  /** Only tell whether they are as they should be. */
  readonly check: boolean;
  /** Write into each file of the model which schema it has. */
  readonly name: boolean;
}

/** The folder of a workspace that holds the JSON Schemas of its files. */
const schemaFolder = 'schemas';

/** Writes the JSON Schema of every kind of file in the workspace, for editors and other programs. */
export async function schemas(call: Call, { check, name }: SchemasCall): Promise<SchemasResult> {
  return writing(call, (workspace) => {
    const { root } = workspace;
    const { stale, gone: removed } = differing(workspace);
    const named = name && !check ? namingSchemas(root) : [];
    if (!check) changeFiles(root, [...schemaChanges(workspace), ...named]);

    return {
      lumbrik: resultVersion,
      command: 'schemas',
      current: stale.size === 0 && removed.length === 0,
      written: [...stale.keys()],
      removed: [...removed],
      named: named.map(({ file }) => file),
    };
  });
}

/** What schemas are made of. */
type Described = Pick<Workspace, 'root' | 'model' | 'content' | 'factKeys'>;

/** What brings the schemas on the disk up to date. */
export function schemaChanges(workspace: Described): readonly WantedChange[] {
  const { stale, gone: removed } = differing(workspace);
  return [...[...stale].map(([file, text]) => ({ file, text })), ...removed.map((file) => ({ file }))];
}

/** The same only where the workspace keeps its schemas. */
export const keptSchemaChanges = (workspace: Described): readonly WantedChange[] => {
  if (!fs.existsSync(path.join(workspace.root, schemaFolder))) return [];
  return schemaChanges(workspace);
};

/** Schemas that are not on the disk as they should be, and those there that no type has any more. */
function differing({ root, model, content, factKeys }: Described): {
  readonly stale: ReadonlyMap<string, string>;
  readonly gone: readonly string[];
} {
  const stores = content.filter((store) => 'folder' in store);
  const names = [factKeys, ...stores.flatMap(({ keys }) => keys ?? [])];
  const schemas = new Map<string, string>([
    ...Object.entries(fileSchemas()).map(([kind, schema]) => [`${schemaFolder}/${kind}.json`, textOf(schema)] as const),
    ...[...model.types.values()].map(
      (type) =>
        [
          `${schemaFolder}/entries/${type.name}.json`,
          textOf(entrySchema(type, model, { factKeys: names, stores, isOfFiles: true })),
        ] as const,
    ),
  ]);
  const stale = new Map([...schemas].filter(([file, text]) => unixLines(readOr(path.join(root, file)) ?? '') !== text));
  const existing = listFiles(root, schemaFolder, ['.json']).map((file) => `${schemaFolder}/${file}`);

  return { stale, gone: existing.filter((file) => file.startsWith(`${schemaFolder}/entries/`) && !schemas.has(file)) };
}

const textOf = (schema: object): string => `${JSON.stringify(schema, undefined, 2)}\n`;

function readOr(file: string): string | undefined {
  if (!fs.existsSync(file)) return undefined;
  const text = readText(file, anySize);
  if ('value' in text) return text.value;
  return undefined;
}

/** Every model file that names no schema, with `$schema` as its first key. */
export function namingSchemas(root: string): readonly { readonly file: string; readonly text: string }[] {
  const files = [workspaceFile, ...listFiles(root, 'model', ['.yaml', '.yml']).map((file) => `model/${file}`)];
  return files.flatMap((file) => {
    const text = readOr(path.join(root, file));
    const reading = text === undefined ? undefined : readYaml(text, anySize);
    const data = reading && 'value' in reading ? reading.value.data : undefined;
    if (text === undefined || !isObject(data) || Object.hasOwn(data, '$schema')) return [];

    const kind = kindOf(file, data);
    const [first] = Object.keys(data);
    if (kind === undefined || first === undefined) return [];

    const named = withSchema(text, first, schemaFor(file, kind));
    if (named === undefined) return [];
    return [{ file, text: named }];
  });
}

/** How a file names the schema of its kind: by the way from its folder. */
export const schemaFor = (file: string, kind: FileKind): string =>
  path.posix.join(path.posix.relative(path.posix.dirname(file), '.') || '.', schemaFolder, `${kind}.json`);

function kindOf(file: string, data: object): FileKind | undefined {
  if (file === workspaceFile) return 'workspace';
  return (['type', 'taxonomy', 'kit', 'field', 'kind'] as const).find((key) => Object.hasOwn(data, key));
}

/** The text with the key before its first one; comments above that one stay above. */
function withSchema(text: string, first: string, schema: string): string | undefined {
  const lines = text.split('\n');
  const index = lines.findIndex((line) => line.startsWith(`${first}:`));
  if (index < 0) return undefined;
  const end = lines[index]?.endsWith('\r') ? '\r' : '';
  return [...lines.slice(0, index), `$schema: ${schema}${end}`, ...lines.slice(index)].join('\n');
}
