import type { Entry } from '../entry/entry.ts';
import type { ModelContext } from '../kinds/kindParts.ts';
import { isList, isObject, type Json, type JsonObject, mapValues, ownValue, type Path } from '../plain/json.ts';
import type { Field, Type } from './link.ts';

/**
 * The layers of a field's value: languages outside, if it differs by language, then a list, if it holds many, then the
 * single values that its kind knows.
 */
interface Single {
  readonly item: Json;
  readonly path: Path;
}

/** Every single value inside a field's value, with its path; a value of the wrong shape counts as one. */
export function singleValues(field: Field, value: Json | undefined): readonly Single[] {
  const singles: Single[] = [];
  eachSingle(field, value, [], (item, path) => singles.push({ item, path }));
  return singles;
}

type VisitSingle = (item: Json, path: Path) => void;

/** Visits every single value inside a field's value. Makes no lists: a check goes through it for every entry. */
function eachSingle(field: Field, value: Json | undefined, above: Path, visit: VisitSingle): void {
  if (value === undefined) return;
  if (!field.common.localized || !isObject(value)) eachInOneLanguage(field, value, above, visit);
  else
    for (const [language, item] of Object.entries(value)) eachInOneLanguage(field, item, [...above, language], visit);
}

function eachInOneLanguage({ common, kind }: Field, value: Json, above: Path, visit: VisitSingle): void {
  if (value === null) return;
  if (!isList(value) || (!common.many && kind.takesLists)) visit(value, above);
  else
    value.forEach((item, index) => {
      visit(item, [...above, index]);
    });
}

/** A single value with the field that it belongs to, which may stand inside another. */
export interface Leaf extends Single {
  readonly field: Field;
}

/** Every single value inside a field's value, those inside objects included. */
export function leaves(field: Field, value: Json | undefined): readonly Leaf[] {
  const leaves: Leaf[] = [];
  eachLeaf(field, value, [], { visit: (leaf) => leaves.push(leaf) });
  return leaves;
}

interface Visitor {
  readonly visit: (leaf: Leaf) => void;
  /** Which fields inside objects are looked into; all of them if nothing is stated. */
  readonly isWanted?: (inner: Field) => boolean;
}

/**
 * Visits every single value inside a field's value, those inside objects included.
 * @param above where the value stands itself: what their paths start with.
 */
export function eachLeaf(field: Field, value: Json | undefined, above: Path, visitor: Visitor): void {
  const { visit, isWanted } = visitor;
  eachSingle(field, value, above, (item, path) => {
    if (!isMade(field) || !isObject(item)) visit({ field, item, path });
    else if (field.kind.maps) eachOfMap(field, item, path, visitor);
    else
      for (const [name, inner] of field.fields)
        if (!isWanted || isWanted(inner)) eachLeaf(inner, ownValue(item, name), [...path, name], visitor);
  });
}

/** Whether the values of a field are made of others: those of an object, or of a map. */
export const isMade = ({ kind }: Pick<Field, 'kind'>): boolean => kind.nests || kind.maps;

/** The keys of a map, each where its value stands, and the values. */
function eachOfMap({ fields }: Field, item: JsonObject, path: Path, visitor: Visitor): void {
  const { visit, isWanted } = visitor;
  const [keys, inner] = [fields.get('keys'), fields.get('value')];
  for (const [key, value] of Object.entries(item)) {
    const innerPath = [...path, key];
    if (keys && (!isWanted || isWanted(keys))) visit({ field: keys, item: key, path: innerPath });
    if (inner && (!isWanted || isWanted(inner))) eachLeaf(inner, value, innerPath, visitor);
  }
}

/** The value with every single value in it changed, those inside objects included, and the keys of maps. */
export function mapLeaves(field: Field, value: Json, change: (item: Json, field: Field) => Json): Json {
  return mapSingles(field, value, (item): Json => {
    if (!isMade(field) || !isObject(item)) return change(item, field);

    const { fields } = field;
    if (field.kind.maps)
      return Object.fromEntries(
        Object.entries(item).map(([key, value]) => {
          const [keys, inner] = [fields.get('keys'), fields.get('value')];
          return [keys ? String(change(key, keys)) : key, inner ? mapLeaves(inner, value, change) : value];
        }),
      );
    return mapValues(item, (value, name) => {
      const inner = field.fields.get(name);
      if (!inner) return value;
      return mapLeaves(inner, value, change);
    });
  });
}

/** The identifiers of the entries of one type that a reference points at, in their order. @param value of the reference. */
export const pointedAt = (
  reference: Field,
  value: Json | undefined,
  type: string,
  context: ModelContext,
): readonly string[] =>
  singleValues(reference, value).flatMap(({ item }) =>
    (reference.kind.links?.(item, reference.options, context) ?? []).flatMap(({ to }) =>
      to.type === type ? to.id : [],
    ),
  );

/** A value in layers whose single values are of another type. */
type InOneLanguage<T> = T | null | readonly T[];
type Layers<T> = InOneLanguage<T> | { readonly [language: string]: InOneLanguage<T> };

/** The value with every single value in it changed, and its layers as they were. */
export function mapSingles<T>({ common, kind }: Field, value: Json, change: (item: Json) => T): Layers<T> {
  const inOneLanguage = (value: Json): InOneLanguage<T> => {
    if (value === null) return value;
    if (isList(value) && (common.many || !kind.takesLists)) return value.map(change);
    return change(value);
  };
  if (common.localized && isObject(value)) return mapValues(value, inOneLanguage);
  return inOneLanguage(value);
}

/** What a value says in the main language: all of it where it does not differ by language. */
export const inMainLanguage = ({ common }: Field, value: Json | undefined, language: string): Json | undefined => {
  if (common.localized && isObject(value)) return ownValue(value, language);
  return value;
};

/** Whether two definitions of a field store their values in the same layers, of the same kind. */
export const sameShape = (a: Readonly<Record<string, Json>>, b: Readonly<Record<string, Json>>): boolean =>
  a.kind === b.kind && Boolean(a.many) === Boolean(b.many) && Boolean(a.localized) === Boolean(b.localized);

/** A field's shape in words: `many text`, `text in each language`. */
export const sayShape = ({ kind, many, localized }: Readonly<Record<string, Json>>): string =>
  `${many ? 'many ' : ''}${String(kind)}${localized ? ' in each language' : ''}`;

/** What an entry is called as a model is read: in the first of its languages in which it is called something. */
export function titleRead(
  entry: Entry,
  type: Type | undefined,
  { readingOrder }: { readonly readingOrder: readonly string[] },
): string | undefined {
  for (const language of readingOrder) {
    const title = titleOf(entry, type, language);
    if (title !== undefined) return title;
  }
  return undefined;
}

/** What an entry is called in lists: the value of the field that its type names for that, in the main language. */
export function titleOf(entry: Entry, type: Type | undefined, language: string): string | undefined {
  const titled = type?.definition.titled;
  if (type === undefined || titled === undefined) return undefined;

  let fields = type.fields;
  let value: Json | undefined = entry.values;
  for (const key of titled.split('.')) {
    const field: Field | undefined = fields.get(key);
    if (!field || !isObject(value)) return undefined;
    value = inMainLanguage(field, ownValue(value, key), language);
    fields = field.fields;
  }

  if (typeof value === 'string' && value !== '') return value;
  return undefined;
}

/** A field's value with whatever is alone in a list of one, in each language. */
export function inLists({ common }: Pick<Field, 'common'>, value: Json): Json {
  const listed = (value: Json): Json => {
    if (isList(value) || value === null || value === '') return value;
    return [value];
  };
  if (common.localized && isObject(value)) return mapValues(value, listed);
  return listed(value);
}
