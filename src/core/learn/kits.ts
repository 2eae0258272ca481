import { isName } from '../definition/address.ts';
import { isReference, isUnique } from '../kinds/traits.ts';
import { equal, isList, type Json, type JsonObject } from '../plain/json.ts';
import { humanize } from '../plain/words.ts';
import type { DefinitionNames } from './definitionNames.ts';
import { valueDoc } from './learnField.ts';
import type { LearntField } from './value.ts';

/** A group of fields that several types have: as loose as all of them need it. */
export interface LearntKit {
  readonly name: string;
  readonly fields: readonly LearntField[];
  readonly types: readonly string[];
}

/** The facts about a type that kits are made from. */
interface FieldsOfType {
  readonly name: string;
  readonly titled: string | undefined;
  readonly fields: readonly LearntField[];
}

/** So many fields make a kit: that begin with the same word, or else that stand side by side; of two types alone more. */
const [fewest, fewestOfTwo, fewestUnnamed] = [2, 3, 4];

/**
 * Groups of fields that recur in types, so that each can be kept once. No field is in two of them.
 * @param defined the names of types and taxonomies, which no kit may have; takes those of the kits.
 */
export function recurringFields(types: readonly FieldsOfType[], defined: DefinitionNames): readonly LearntKit[] {
  const kits: LearntKit[] = [];
  const usedNames = new Set<string>();
  const candidates = [...sameBeginnings(types), ...sideBySide(types)];
  for (const candidate of candidates) {
    const kit = kitOf(candidate, types, usedNames);
    if (!kit || !defined.take(kit.name)) continue;
    kits.push(kit);
    for (const type of kit.types) for (const field of kit.fields) usedNames.add(`${type}.${field.name}`);
  }

  return kits;
}

interface Candidate {
  readonly name: string;
  readonly names: readonly string[];
}

/** Names that begin with the same word, and go on: `shareTitle`, `shareText`. */
function sameBeginnings(types: readonly FieldsOfType[]): readonly Candidate[] {
  const groups = new Map<string, Set<string>>();
  for (const { name } of types.flatMap(fieldsOf)) {
    const [word = '', ...rest] = humanize(name).toLowerCase().split(/[ _]/u);
    if (rest.length === 0 || !isName(word)) continue;
    const names = groups.get(word) ?? new Set();
    groups.set(word, names.add(name));
  }

  return [...groups].map(([name, names]) => ({ name, names: [...names] }));
}

/** Of more stretches of names than these the longest are looked at. */
const mostRuns = 200;

/** Names that stand side by side in several types, the longest stretches first; called as the first of them is. */
function sideBySide(types: readonly FieldsOfType[]): readonly Candidate[] {
  const runs = new Map<string, readonly string[]>();
  const orders = types.map((type) => {
    const names = fieldsOf(type).map(({ name }) => name);
    return { names, places: new Map(names.map((name, place) => [name, place])) };
  });

  for (const [index, order] of orders.entries())
    for (const other of orders.slice(index + 1))
      for (const run of commonRuns(order.names, other)) runs.set(run.join('\n'), run);

  return [...runs.values()]
    .toSorted((a, b) => b.length - a.length)
    .slice(0, mostRuns)
    .map((names) => ({ name: names[0] ?? '', names }));
}

interface Order {
  readonly names: readonly string[];
  /** Where each of them stands. */
  readonly places: ReadonlyMap<string, number>;
}

/** The longest stretches of names that two orders have in common. */
function commonRuns(first: readonly string[], other: Order): readonly (readonly string[])[] {
  const runs: (readonly string[])[] = [];
  for (let start = 0; start < first.length; ) {
    const index = other.places.get(first[start] ?? '');
    let length = index === undefined ? 0 : 1;
    while (
      index !== undefined &&
      first[start + length] !== undefined &&
      first[start + length] === other.names[index + length]
    )
      length += 1;

    if (length >= fewestUnnamed) runs.push(first.slice(start, start + length));
    start += Math.max(1, length);
  }

  return runs;
}

/** The fields of a type that a kit can hold: not what names its entries, or leads to others. */
const fieldsOf = ({ fields, titled }: FieldsOfType): readonly LearntField[] =>
  fields.filter(
    ({ name, definition }) =>
      name !== titled &&
      definition.when === undefined &&
      definition.body !== true &&
      !isUnique(definition) &&
      !isReference(definition),
  );

/** The kit of some names that keeps most once: of few types with many of them, or of many that have few. */
function kitOf(
  { name, names }: Candidate,
  types: readonly FieldsOfType[],
  usedNames: ReadonlySet<string>,
): LearntKit | undefined {
  const having = types.flatMap((type): readonly TypeWithFields[] => {
    const isFree = (field: LearntField): boolean =>
      names.includes(field.name) && !usedNames.has(`${type.name}.${field.name}`);
    const fields = fieldsOf(type).filter(isFree);
    if (fields.length >= fewest) return [{ type: type.name, fields }];
    return [];
  });
  const isNamed = names.some((other) => other !== name && humanize(other).toLowerCase().startsWith(`${name} `));
  const kits = [...new Set(having.map(({ fields }) => fields.length))].flatMap((least) => {
    const some = having.filter(({ fields }) => fields.length >= least);
    const fields = some.length > 1 ? inAll(some) : [];
    const enough = some.length > 2 ? fewest : fewestOfTwo;
    if (fields.length >= (isNamed ? enough : fewestUnnamed))
      return [{ name, fields, types: some.map(({ type }) => type) }];
    return [];
  });
  const saved = (kit: LearntKit): number => kit.fields.length * (kit.types.length - 1);

  if (!isName(name)) return undefined;
  return kits.toSorted((a, b) => saved(b) - saved(a))[0];
}

interface TypeWithFields {
  readonly type: string;
  readonly fields: readonly LearntField[];
}

/** The fields that all of some types have, as loose as each needs them. */
const inAll = ([first, ...more]: readonly TypeWithFields[]): readonly LearntField[] =>
  (first?.fields ?? []).flatMap((field) => {
    const rest = more.map((having) => having.fields.find((other) => other.name === field.name));
    const shared = rest.reduce<LearntField | undefined>((result, other) => other && inCommon(result, other), field);
    if (!shared) return [];
    return [shared];
  });

/** What two fields of one name have in common, as loose as both need it; `undefined` where they are of two sorts. */
function inCommon(field: LearntField | undefined, other: LearntField): LearntField | undefined {
  if (!field || !equal(valueDoc({ ...field, definition: {} }), valueDoc({ ...other, definition: {} })))
    return undefined;

  const definition: Record<string, Json> = {};
  for (const key of new Set([...Object.keys(field.definition), ...Object.keys(other.definition)])) {
    const value = looser(key, field.definition, other.definition);
    if (value === undefined) return undefined;
    if (value !== none) definition[key] = value;
  }

  return { ...field, definition, against: field.against + other.against };
}

/** That nothing is stated of an option. */
const none = Symbol('nothing');

function looser(key: string, object: JsonObject, other: JsonObject): Json | typeof none | undefined {
  const [a, b] = [object[key], other[key]];
  if (a !== undefined && b !== undefined && equal(a, b)) return a;
  if (key === 'required' || key === 'unique') return none;
  if ((key === 'max' || key === 'min') && object.kind === other.kind) {
    if (typeof a !== 'number' || typeof b !== 'number') return a === undefined || b === undefined ? none : undefined;
    if (key === 'max') return Math.max(a, b);
    return Math.min(a, b);
  }
  if (key === 'choices' && isList(a) && isList(b))
    return [...a, ...b.filter((choice) => !a.some((had) => equal(had, choice)))];
  return undefined;
}
