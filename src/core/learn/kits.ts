import { isName } from '../definition/address.ts';
import { equal, isList, type Json, type JsonObject } from '../plain/json.ts';
import { humanize } from '../plain/words.ts';
import { type LearntField, valueDoc } from './learnField.ts';

/** A group of fields that several types have: as loose as all of them need it. */
export interface LearntKit {
  readonly name: string;
  readonly fields: readonly LearntField[];
  readonly types: readonly string[];
}

/** What is looked at of a type. */
interface FieldsOfType {
  readonly name: string;
  readonly titled: string | undefined;
  readonly fields: readonly LearntField[];
}

/** So many fields make a kit: that begin with the same word, or else that stand side by side; of two types alone more. */
const [fewest, fewestOfTwo, fewestUnnamed] = [2, 3, 4];

/** Groups of fields that recur in types, so that each can be kept once. No field is in two of them. */
export function recurringFields(types: readonly FieldsOfType[]): readonly LearntKit[] {
  const kits: LearntKit[] = [];
  const taken = new Set<string>();
  const candidates = [...sameBeginnings(types), ...sideBySide(types)];
  for (const { name, names } of candidates) {
    const kit = kitOf(name, names, types, taken);
    if (!kit || kits.some((one) => one.name === kit.name)) continue;
    kits.push(kit);
    for (const type of kit.types) for (const field of kit.fields) taken.add(`${type}.${field.name}`);
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
    const [word = '', ...others] = humanize(name).toLowerCase().split(/[ _]/u);
    if (others.length === 0 || !isName(word)) continue;
    const names = groups.get(word) ?? new Set();
    groups.set(word, names.add(name));
  }
  return [...groups].map(([name, names]) => ({ name, names: [...names] }));
}

/** Names that stand side by side in several types, the longest first; called as the first of them is. */
function sideBySide(types: readonly FieldsOfType[]): readonly Candidate[] {
  const runs = new Map<string, readonly string[]>();
  const orders = types.map((type) => fieldsOf(type).map(({ name }) => name));
  for (const [index, one] of orders.entries())
    for (const other of orders.slice(index + 1))
      for (const run of commonRuns(one, other)) runs.set(run.join('\n'), run);
  return [...runs.values()].toSorted((a, b) => b.length - a.length).map((names) => ({ name: names[0] ?? '', names }));
}

/** The longest stretches of names that two orders have in common. */
function commonRuns(one: readonly string[], other: readonly string[]): readonly (readonly string[])[] {
  const runs: (readonly string[])[] = [];
  for (let start = 0; start < one.length; ) {
    const at = other.indexOf(one[start] ?? '');
    let length = at < 0 ? 0 : 1;
    while (length > 0 && one[start + length] !== undefined && one[start + length] === other[at + length]) length += 1;
    if (length >= fewestUnnamed) runs.push(one.slice(start, start + length));
    start += Math.max(1, length);
  }
  return runs;
}

/** The fields of a type that a kit can hold: not what names its entries, or leads to others. */
const fieldsOf = ({ fields, titled }: FieldsOfType): readonly LearntField[] =>
  fields.filter(
    ({ name, says }) =>
      name !== titled &&
      says.when === undefined &&
      says.body !== true &&
      !['slug', 'reference'].includes(String(says.kind)),
  );

function kitOf(
  name: string,
  names: readonly string[],
  types: readonly FieldsOfType[],
  taken: ReadonlySet<string>,
): LearntKit | undefined {
  const having = types.flatMap((type) => {
    const fields = fieldsOf(type).filter(
      (field) => names.includes(field.name) && !taken.has(`${type.name}.${field.name}`),
    );
    return fields.length >= fewest ? [{ type: type.name, fields }] : [];
  });
  const [first, ...others] = having;
  if (!first || others.length === 0) return undefined;
  const fields = first.fields.flatMap((field) => {
    const all = [field, ...others.flatMap((one) => one.fields.filter((other) => other.name === field.name))];
    const shared = all.length === having.length ? all.reduce<LearntField | undefined>(inCommon, field) : undefined;
    return shared ? [shared] : [];
  });
  const isNamed = names.some((one) => one !== name && humanize(one).toLowerCase().startsWith(`${name} `));
  const least = others.length > 1 ? fewest : fewestOfTwo;
  if (!isName(name) || fields.length < (isNamed ? least : fewestUnnamed)) return undefined;
  return { name, fields, types: having.map(({ type }) => type) };
}

/** What two fields of one name have in common, as loose as both need it; `undefined` where they are of two sorts. */
function inCommon(one: LearntField | undefined, other: LearntField): LearntField | undefined {
  if (!one || !equal(valueDoc({ ...one, says: {} }), valueDoc({ ...other, says: {} }))) return undefined;
  const says: Record<string, Json> = {};
  for (const key of new Set([...Object.keys(one.says), ...Object.keys(other.says)])) {
    const value = looser(key, one.says, other.says);
    if (value === undefined) return undefined;
    if (value !== none) says[key] = value;
  }
  return { ...one, says, against: one.against + other.against };
}

/** That nothing is said of an option. */
const none = Symbol('nothing');

function looser(key: string, one: JsonObject, other: JsonObject): Json | typeof none | undefined {
  const [a, b] = [one[key], other[key]];
  if (a !== undefined && b !== undefined && equal(a, b)) return a;
  if (key === 'required') return none;
  if ((key === 'max' || key === 'min') && one.kind === other.kind) {
    if (typeof a !== 'number' || typeof b !== 'number') return a === undefined || b === undefined ? none : undefined;
    return key === 'max' ? Math.max(a, b) : Math.min(a, b);
  }
  if (key === 'choices' && isList(a) && isList(b))
    return [...a, ...b.filter((choice) => !a.some((had) => equal(had, choice)))];
  return undefined;
}
