import { z } from 'zod';
import { NewEntries, optionsInstead, withState } from '../definition/earlierForm.ts';
import { asJson } from '../definition/model.ts';
import { Preview } from '../definition/preview.ts';
import { isObject, type Json, type JsonObject } from '../plain/json.ts';
import type { Edit } from '../source/editOperation.ts';

const Addresses = z.record(z.string(), Preview);

/** A file of the model as data. */
interface DataFile {
  readonly file: string;
  readonly data: Json;
}

/** A type as its file writes it. */
interface WrittenType {
  readonly file: string;
  readonly data: JsonObject;
  /** The settings of its key `newEntries`, where the file has that key, and it and the previews can be read. */
  readonly newEntries: NewEntries | undefined;
}

/**
 * The edits that put keys of earlier models into their present places, by file. A file whose earlier key cannot be read is
 * left out: its mistake is reported wherever the model is read.
 */
export function editsOfUpgrade(files: readonly DataFile[]): ReadonlyMap<string, readonly Edit[]> {
  const types = new Map(
    files.flatMap(({ file, data }) => {
      const type = writtenType(file, data);
      if (!type) return [];
      return [[String(type.data.type), type] as const];
    }),
  );

  const edits = [...types.values()].map((type) => [type.file, editsOfType(type, types)] as const);
  return new Map(edits.filter(([, some]) => some.length > 0));
}

function writtenType(file: string, data: Json): WrittenType | undefined {
  if (!isObject(data) || typeof data.type !== 'string') return undefined;
  const read = NewEntries.safeParse(data.newEntries);
  const isReadable = read.success && Addresses.safeParse(data.previews ?? {}).success;
  return { file, data, newEntries: isReadable ? read.data : undefined };
}

function editsOfType(type: WrittenType, types: ReadonlyMap<string, WrittenType>): readonly Edit[] {
  const { data, newEntries } = type;
  const edits: Edit[] = [];

  for (const [key, value] of Object.entries(newEntries ? optionsInstead(newEntries) : {}))
    if (!Object.hasOwn(data, key)) edits.push({ do: 'set', path: [key], value, after: ['newEntries'] });
  const previews = previewsInstead(type, types);
  if (previews) edits.push({ do: 'set', path: ['previews'], value: previews, after: ['newEntries'] });
  if (newEntries) edits.push({ do: 'remove', key: 'newEntries' });

  return edits;
}

/** The previews of a type's file with the state that `newEntries` gave them; `undefined` where they stay as they are. */
function previewsInstead(type: WrittenType, types: ReadonlyMap<string, WrittenType>): JsonObject | undefined {
  const lineage = [type, ...basesOf(type, types)];
  const state = lineage.find(({ newEntries }) => newEntries?.preview !== undefined)?.newEntries?.preview;
  if (state === undefined) return undefined;

  // A state that the type gives itself is the one of the previews that it inherits, too.
  const concerned = type.newEntries?.preview === undefined ? [type] : lineage.toReversed();
  const previews = Object.assign({}, ...concerned.map(writtenPreviews)) as Readonly<Record<string, Preview>>;
  if (type.newEntries?.preview === undefined && Object.keys(previews).length === 0) return undefined;
  return asJson(withState(previews, state));
}

const writtenPreviews = ({ data }: WrittenType): JsonObject => (isObject(data.previews) ? data.previews : {});

function basesOf(type: WrittenType, types: ReadonlyMap<string, WrittenType>): readonly WrittenType[] {
  const bases: WrittenType[] = [];
  for (let base = baseOf(type, types); base && !bases.includes(base); base = baseOf(base, types)) bases.push(base);
  return bases;
}

const baseOf = ({ data }: WrittenType, types: ReadonlyMap<string, WrittenType>): WrittenType | undefined =>
  typeof data.extends === 'string' ? types.get(data.extends) : undefined;
