import { keyOfField } from '../definition/fieldName.ts';
import { asJson, type ModelDoc } from '../definition/model.ts';
import type { Rename } from '../definition/rename.ts';
import {
  at,
  equal,
  isList,
  isObject,
  type Json,
  type JsonObject,
  mapValues,
  ownValue,
  type Path,
  withoutKey,
} from '../plain/json.ts';
import type { Edit } from '../source/editOperation.ts';
import type { FilePlace } from './inheritedParts.ts';
import { type Move, objectsAbove, outsideOnly } from './move.ts';
import { formOf } from './nestedFields.ts';
import { renameAll } from './rename.ts';

/** The files of a model as they are written. */
export interface WrittenModel {
  /** All places that say something about a path of the model document. */
  readonly placesOf: (path: Path) => readonly FilePlace[];
  /** What a file holds. */
  readonly dataOf: (file: string) => Json;
}

/** A difference between two model documents: a key that is another one, or a value. */
type Change =
  | { readonly path: Path; readonly to: string }
  | { readonly path: Path; readonly was: Json; readonly is: Json };

type Edits = ReadonlyMap<string, readonly Edit[]>;

/**
 * The edits by which the files of a model call something by another name, and mention it so. What a file does not say in
 * a way that is understood here is left as it is: read the files again, and compare their meaning with the intended one.
 * @param renames the rename, and the same wherever else the field arrives.
 * @returns by file, in the order in which they are made.
 */
export function editsOfRename(before: ModelDoc, renames: readonly Rename[], written: WrittenModel): Edits {
  const edits = new Map(editsBetween(before, renameAll(before, renames), written));
  const add = (file: string | undefined, some: readonly Edit[]): void => {
    if (file !== undefined && some.length > 0) edits.set(file, [...(edits.get(file) ?? []), ...some]);
  };

  for (const { what: category, ...rename } of renames) {
    const [file] = 'taxonomy' in rename ? filesOf(['taxonomies', rename.taxonomy], written) : [];
    if (file !== undefined) add(file, editsOfTerm(written.dataOf(file), rename.from, rename.to));
    if (category === 'type' || category === 'taxonomy')
      for (const file of filesOf([category === 'type' ? 'types' : 'taxonomies', rename.from], written))
        add(file, [{ do: 'set', path: [category], value: rename.to }]);
  }

  return edits;
}

const filesOf = (path: Path, { placesOf }: WrittenModel): readonly string[] => [
  ...new Set(placesOf(path).map(({ file }) => file)),
];

/**
 * The edits by which a field is elsewhere in the file of its type, and is mentioned so.
 * @param after the model after the move.
 */
export function editsOfMove(before: ModelDoc, after: ModelDoc, { type, from, to }: Move, written: WrittenModel): Edits {
  const [file = ''] = filesOf(['types', type], written);
  const [source, target] = [inRaw(from), inRaw(to)];
  const data = written.dataOf(file);
  const edits: Edit[] = [];
  for (const key of outsideOnly)
    if (to.includes('.') && at(data, [...source, key]) !== undefined) edits.push({ do: 'remove', inside: source, key });

  for (const object of objectsAbove(to))
    if (at(data, inRaw(object)) === undefined)
      edits.push({ do: 'set', path: inRaw(object), value: { kind: 'object' }, after: [keyOfField(from)] });

  edits.push({ do: 'carry', from: source, to: target });
  const fields = ownValue(after.types, type)?.fields ?? {};
  for (const object of objectsAbove(from).toReversed())
    if (formOf(fields, object) === undefined)
      edits.push({ do: 'remove', inside: inRaw(object).slice(0, -1), key: keyOfField(object) });

  const mentions = editsBetween(before, after, written);

  return new Map(mentions).set(file, [...(mentions.get(file) ?? []), ...edits]);
}

const inRaw = (name: string): readonly string[] => name.split('.').flatMap((key) => ['fields', key]);

/** The edits by which the files of a model say what another document says of what both have under the same names or in the same places. */
function editsBetween(before: ModelDoc, after: ModelDoc, { placesOf, dataOf }: WrittenModel): Edits {
  const kits = (model: ModelDoc): Json => asJson(model.shared?.kits ?? {});
  const bases = (model: ModelDoc): Json => mapValues(model.shared?.types ?? {}, ({ extends: base }) => base ?? null);
  const changes = [
    ...changesIn(['types'], asJson(before.types), asJson(after.types)),
    ...changesIn(['taxonomies'], withoutTrees(before), withoutTrees(after)),
    ...changesIn(['kits'], kits(before), kits(after)),
    ...[...changesIn(['types'], bases(before), bases(after))].flatMap((change) =>
      'was' in change ? [{ ...change, path: [...change.path, 'extends'] }] : [],
    ),
  ];
  // Values change first, then keys from the inside out, so that each is still in its place.
  const ordered = [
    ...changes.filter((change) => 'was' in change),
    ...changes.filter((change) => 'to' in change).toSorted((a, b) => b.path.length - a.path.length),
  ];
  const edits = new Map<string, Map<string, Edit>>();
  for (const change of ordered)
    for (const { file, path } of placesOf(change.path))
      for (const edit of editsAt(dataOf(file), path, change)) {
        const inFile = edits.get(file) ?? new Map<string, Edit>();
        inFile.set(JSON.stringify(edit), edit); // The same place is reached from each type that has a part.
        edits.set(file, inFile);
      }

  return new Map([...edits].map(([file, editsByPath]) => [file, [...editsByPath.values()]]));
}

/** How terms stand below each other is stated where they are. */
const withoutTrees = ({ taxonomies }: ModelDoc): Json =>
  mapValues(taxonomies, (taxonomy) => withoutKey(asJson(taxonomy), 'tree'));

function* changesIn(path: Path, before: Json, after: Json): Iterable<Change> {
  if (equal(before, after)) return;
  if (isObject(before) && isObject(after)) {
    const names = Object.keys(after);
    const isSameSize = Object.keys(before).length === names.length;
    for (const [index, [name, value]] of Object.entries(before).entries()) {
      const other = Object.hasOwn(after, name) || !isSameSize ? name : (names[index] ?? name);
      if (other !== name && (Object.hasOwn(before, other) || !isAlike(value, after[other]))) continue;
      if (other !== name) yield { path: [...path, name], to: other };
      if (Object.hasOwn(after, other)) yield* changesIn([...path, name], value, after[other] ?? null);
    }
  } else if (path.at(-1) === 'rules' && isList(before) && isList(after) && before.length === after.length) {
    // Each rule of a type may be in another file.
    for (const [index, rule] of before.entries()) yield* changesIn([...path, index], rule, after[index] ?? null);
  } else yield { path, was: before, is: after };
}

/** Whether one thing may be another under another name: a definition stays one of the same kind. */
const isAlike = (before: Json, after: Json | undefined): boolean =>
  !isObject(before) || (isObject(after) && ownValue(before, 'kind') === ownValue(after, 'kind'));

function* editsAt(data: Json, path: Path, change: Change): Iterable<Edit> {
  const current = at(data, path);
  if ('to' in change) {
    const key = path.at(-1);
    if (current !== undefined && key === change.path.at(-1))
      yield { do: 'rename', inside: path.slice(0, -1), key: String(key), to: change.to };
  } else if (current !== undefined) yield* rewritten(path, current, change.was, change.is);
}

/** Edits of a text that may be shorter than the normal form: `to: keeper` for `to: [keeper]`. */
function* rewritten(path: Path, current: Json, before: Json, after: Json): Iterable<Edit> {
  if (equal(before, after)) return;
  if (isList(before) && isList(after) && before.length === after.length) {
    if (isList(current) && current.length === before.length)
      for (const [index, item] of current.entries())
        yield* rewritten([...path, index], item, before[index] ?? null, after[index] ?? null);
    else if (!isList(current) && before.length === 1)
      yield* rewritten(path, current, before[0] ?? null, after[0] ?? null);
  } else if (isObject(before) && isObject(after)) yield* rewrittenKeys(path, current, before, after);
  else if (equal(current, before)) yield { do: 'set', path, value: after };
}

function* rewrittenKeys(path: Path, current: Json, before: JsonObject, after: JsonObject): Iterable<Edit> {
  for (const [key, value] of Object.entries(before)) {
    const other = ownValue(after, key);
    if (other === undefined || equal(value, other)) continue;
    if (!isObject(current)) yield* rewritten(path, current, value, other);
    else if (Object.hasOwn(current, key)) yield* rewritten([...path, key], current[key] ?? null, value, other);
  }
}

/** The edits by which a file of terms calls one of them by another name, wherever it mentions it. */
function editsOfTerm(data: Json, from: string, to: string): readonly Edit[] {
  const edits: Edit[] = [];
  const set = (path: Path): number => edits.push({ do: 'set', path, value: to });

  const walk = (terms: Json | undefined, path: Path): void => {
    for (const [index, term] of (isList(terms) ? terms : []).entries()) {
      const innerPath = [...path, index];
      if (term === from) set(innerPath);
      if (!isObject(term)) continue;

      for (const key of ['term', 'also']) if (ownValue(term, key) === from) set([...innerPath, key]);
      const retired = ownValue(term, 'retired');
      if (isObject(retired) && ownValue(retired, 'use') === from) set([...innerPath, 'retired', 'use']);
      walk(ownValue(term, 'terms'), [...innerPath, 'terms']);
    }
  };

  walk(isObject(data) ? ownValue(data, 'terms') : undefined, ['terms']);

  return edits;
}
