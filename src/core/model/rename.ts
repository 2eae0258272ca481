import { renameInExpression } from '../cel/names.ts';
import type { FieldDoc } from '../definition/field.ts';
import { beside, celName, keyOfField } from '../definition/fieldName.ts';
import { asJson, type ModelDoc } from '../definition/model.ts';
import type { Home, Rename } from '../definition/rename.ts';
import type { Shared } from '../definition/shared.ts';
import type { Branch, TaxonomyDoc, TermDoc } from '../definition/taxonomy.ts';
import type { Rule, TypeDoc } from '../definition/type.ts';
import type { Elsewhere } from '../kinds/define.ts';
import { grouped } from '../plain/grouped.ts';
import {
  compact,
  equal,
  isList,
  isObject,
  type Json,
  type JsonObject,
  mapValues,
  ownValue,
  renameKey,
} from '../plain/json.ts';
import { onceFor } from '../plain/once.ts';
import { type Field, link, linkField, type Type } from './link.ts';
import { fieldsWithin, formOf, siblingsOf, withSiblings } from './nestedFields.ts';
import { renamedInAddress } from './previews.ts';
import { type Place, renamedPath, renameNamed } from './renameInTexts.ts';
import { mapLeaves } from './traversal.ts';

/** A model after something in it got another name: the thing itself and every mention of it. */
export function renameInModel(before: ModelDoc, rename: Rename): ModelDoc {
  const renames = withBorrowers(rename, before);
  const model: ModelDoc = before.shared
    ? { ...before, shared: renameInShared(before.shared, rename, renames) }
    : before;
  const mention = mentionsOf(rename);
  const types = mapValues(
    model.types,
    (type, name): TypeDoc =>
      mention.inType(type)
        ? renameInType(type, { type: name, types: model.types }, rename, { renames, mention })
        : type,
  );

  switch (rename.what) {
    case 'type':
      return { ...model, types: renameKey(types, rename.from, rename.to) };
    case 'field':
      return {
        ...model,
        types: mapValues(types, (type, name) =>
          name === rename.type
            ? {
                ...type,
                fields: withSiblings(type.fields, rename.from, (fields) =>
                  renameKey(fields, keyOfField(rename.from), rename.to),
                ),
              }
            : type,
        ),
      };
    case 'taxonomy':
      return {
        ...model,
        types,
        taxonomies: mapValues(renameKey(model.taxonomies, rename.from, rename.to), (taxonomy) =>
          withBorrows(taxonomy, (name, term) => [name === rename.from ? rename.to : name, term]),
        ),
      };
    case 'term':
      return {
        ...model,
        types,
        taxonomies: mapValues(model.taxonomies, (taxonomy, name) =>
          name === rename.taxonomy
            ? renameTerm(taxonomy, rename.from, rename.to)
            : withBorrows(taxonomy, (lender, term) => [
                lender,
                lender === rename.taxonomy && term === rename.from ? rename.to : term,
              ]),
        ),
      };
    case 'choice':
      return { ...model, types };
  }
}

/**
 * A model after several things got other names, none of which has the old name of another. Fields that are beside
 * each other are renamed in one go, and those of many types that nothing mentions: there may be hundreds.
 */
export const renameAll = (model: ModelDoc, renames: readonly Rename[]): ModelDoc =>
  renameStages(model, renames).at(-1)?.after ?? model;

/** Renames that are done in one go, with the model before and after. */
export interface RenameStage {
  readonly renames: readonly Rename[];
  readonly before: ModelDoc;
  readonly after: ModelDoc;
}

/** Renames one behind the other, as many in one go as can be. */
export function renameStages(model: ModelDoc, ordered: readonly Rename[]): readonly RenameStage[] {
  const stages: RenameStage[] = [];
  const reached = (): ModelDoc => stages.at(-1)?.after ?? model;

  const add = (renames: readonly Rename[]): void => {
    const before = reached();
    if (renames.length > 0) stages.push({ renames, before, after: renamedTogether(before, renames) });
  };

  let unmentioned: readonly Rename[] = [];
  for (const level of levelsOf(ordered)) {
    // What renames no more than keys changes nothing that mentions something.
    if (level.every((rename) => isKeyAlone(reached(), rename))) {
      unmentioned = [...unmentioned, ...level];
      continue;
    }

    add(unmentioned);
    unmentioned = [];
    add(level);
  }

  add(unmentioned);

  return stages;
}

/** Renames in their order, those of fields that are beside each other together. */
const levelsOf = (renames: readonly Rename[]): readonly (readonly Rename[])[] => [
  ...grouped(renames, (rename) =>
    rename.what === 'field' ? `${rename.type}.${rename.from.slice(0, rename.from.lastIndexOf('.') + 1)}` : rename,
  ).values(),
];

/** Models by the renames applied to them: counting walks through a comparison again. */
const renamedModels = onceFor((_: ModelDoc) => new Map<string, ModelDoc>());

function renamedTogether(model: ModelDoc, renames: readonly Rename[]): ModelDoc {
  const name = JSON.stringify(renames);
  const existing = renamedModels(model).get(name) ?? renamedInOneGo(model, renames);
  renamedModels(model).set(name, existing);
  return existing;
}

type FieldRename = Rename & { readonly what: 'field' };

function renamedInOneGo(model: ModelDoc, renames: readonly Rename[]): ModelDoc {
  const alone = renames.filter((rename): rename is FieldRename => isKeyAlone(model, rename));
  const mentioned = renames.filter((rename) => !isKeyAlone(model, rename));
  const named = mentioned.reduce((result, rename) => renameInModel(result, rename), model);
  if (alone.length === 0) return named;
  return { ...named, types: keysRenamed(named.types, alone) };
}

/** Types after fields of theirs got other keys, where nothing else mentions these. */
function keysRenamed(types: ModelDoc['types'], fieldRenames: readonly FieldRename[]): ModelDoc['types'] {
  const keysOf = grouped(fieldRenames, ({ type }) => type);
  return mapValues(types, (type, name) => {
    const renames = keysOf.get(name);
    if (!renames) return type;
    const names = new Map(renames.map(({ from, to }) => [keyOfField(from), to]));
    const fields = Object.entries(type.fields).map(([key, field]) => [names.get(key) ?? key, field]);
    return { ...type, fields: Object.fromEntries(fields) };
  });
}

/** Whether it is the key of a field in its type that gets another name, and nothing else may: no expression, option or title. */
const isKeyAlone = (model: ModelDoc, rename: Rename): boolean =>
  rename.what === 'field' && !rename.from.includes('.') && !isMentioned(model, rename);

function isMentioned(model: ModelDoc, rename: Rename): boolean {
  const name = keyOfField(rename.from);
  if (isWord(name)) return wordsOfModel(model).has(name);
  const mention = mentionsOf(rename);
  const { types, shared } = model;
  return Object.values(types).some((type) => mention.inType(type)) || (shared !== undefined && mention.in(shared));
}

/** All that a definition says, as one text. */
const textOf = onceFor((definition: object): string => JSON.stringify(definition));

/** All but what a type calls its own fields: many types have a field of the same name. */
const withoutNames = onceFor((type: TypeDoc): JsonObject => asJson({ ...type, fields: Object.values(type.fields) }));

/** The words in all texts and keys of that. */
const wordsOfType = onceFor((type: TypeDoc): ReadonlySet<string> => {
  const words = new Set<string>();
  addWords(withoutNames(type), words);
  return words;
});

/** The same of all types, and of shared parts. */
const wordsOfModel = onceFor(({ types, shared }: ModelDoc): ReadonlySet<string> => {
  const words = new Set<string>();
  for (const type of Object.values(types)) addWords(withoutNames(type), words);
  if (shared) addWords(asJson(shared), words);
  return words;
});

function addWords(value: Json, words: Set<string>): void {
  if (typeof value === 'string') addWordsOfText(value, words);
  else if (isList(value)) for (const item of value) addWords(item, words);
  else if (isObject(value))
    for (const key of Object.keys(value)) {
      addWordsOfText(key, words);
      addWords(value[key] ?? null, words);
    }
}

function addWordsOfText(text: string, words: Set<string>): void {
  // Most were met before. That the text itself is among the words does no harm: none is looked for that is more than one.
  if (words.has(text)) return;
  words.add(text);
  for (const word of text.match(/\w+/gu) ?? []) words.add(word);
}

/** What can mention something that gets another name: where the name stands nowhere, nothing does. */
interface Mention {
  readonly in: (definition: object) => boolean;
  readonly inType: (type: TypeDoc) => boolean;
}

const isWord = (name: string): boolean => /^\w+$/u.test(name);

function mentionsOf({ from }: Rename): Mention {
  const name = keyOfField(from);
  const spellings = [JSON.stringify(name).slice(1, -1), celName(name)];
  const isIn = (definition: object): boolean => spellings.some((spelling) => textOf(definition).includes(spelling));
  return { in: isIn, inType: (type) => (isWord(name) ? wordsOfType(type).has(name) : isIn(withoutNames(type))) };
}

/** Shared definitions, after something that it mentions got another name; a field keeps the name that a kit gives it. */
function renameInShared({ types, kits, fields, ...rest }: Shared, rename: Rename, renames: readonly Rename[]): Shared {
  const inFields = (some: Readonly<Record<string, FieldDoc>>, type: string) =>
    mapValues(some, (field, name) =>
      renames.reduce(
        (renamed, rename) => renameInField(renamed, { type, field: name, types: { [type]: { fields: some } } }, rename),
        field,
      ),
    );

  const isType = rename.what === 'type';
  const renamedTypes = mapValues(types ?? {}, (uses) =>
    isType && uses.extends === rename.from ? { ...uses, extends: rename.to } : uses,
  );

  return {
    ...rest,
    ...compact({
      kits: kits && mapValues(kits, (kit, name) => ({ ...kit, fields: inFields(kit.fields, name) })),
      fields: fields && inFields(fields, ''),
      types: types && (isType ? renameKey(renamedTypes, rename.from, rename.to) : renamedTypes),
    }),
  };
}

type FieldPlace = Place & Home;

/** A type after something that it mentions got another name. @param all the rename, and the same where it arrives. */
function renameInType(
  type: TypeDoc,
  place: Place,
  rename: Rename,
  { renames, mention }: { readonly renames: readonly Rename[]; readonly mention: Mention },
): TypeDoc {
  const fields = mapValues(type.fields, (field, name) =>
    mention.in(field)
      ? renames.reduce((renamed, rename) => renameInField(renamed, { ...place, field: name }, rename), field)
      : field,
  );
  const rules = type.rules?.map((rule) => ({ ...rule, expect: renameNamed(rule.expect, renames, place) }));
  const named = { ...type, ...compact({ rules }), fields };
  if (rename.what === 'field' && rename.type === place.type) return renameOwnField(named, rename);
  return named;
}

/** A type with all mentions of one of its fields renamed, except its key. */
function renameOwnField(named: TypeDoc, rename: FieldRename): TypeDoc {
  const { titled, rules, order, previews } = named;
  const renamed = (path: string): string => renamedPath(path, rename.from, rename.to);

  return {
    ...named,
    ...compact({
      titled: titled === undefined ? undefined : renamed(titled),
      rules: rules?.map((rule) => renameInRule(rule, rename.from, rename.to)),
      order: order?.map(renamed),
      previews: previews && mapValues(previews, (address) => renamedInAddress(address, renamed)),
    }),
  } as TypeDoc;
}

const renameInRule = (rule: Rule, from: string, to: string): Rule => ({
  ...rule,
  expect: renameInExpression(rule.expect, from, to),
  ...(rule.at === from ? { at: to } : {}),
});

function renameInField(definition: FieldDoc, home: FieldPlace, rename: Rename): FieldDoc {
  const field = linkField(home, home.field, definition);
  if (!field) return definition;

  const options = field.kind.renameInOptions(field.options, rename, home);
  const renamed = mapValues(definition, (value, key): Json => {
    if (key === 'default' || key === 'example') return renameInValue(value, field, rename);
    if (key === 'computed') return renameInComputed(value, home, rename);
    if (key === 'when') {
      const named = renameNamed(String(value), [rename], home);
      if (rename.what === 'field' && rename.type === home.type)
        return renameInExpression(named, rename.from, rename.to);
      return named;
    }
    if (key === 'eligible')
      return renameNamed(
        String(ownValue(options, key) ?? value),
        [rename],
        home,
        field.kind.pointsAt(field.options).types,
      );
    if (key === 'fields' && field.kind.nests) return renameInside(value, home, rename);
    if (field.kind.maps && (key === 'keys' || key === 'value'))
      return renameInField(value as FieldDoc, { ...home, field: `${home.field}.${key}` }, rename);
    return ownValue(options, key) ?? value;
  });

  return { ...renamed, kind: definition.kind };
}

const renameInside = (fields: Json, { field, ...place }: FieldPlace, rename: Rename): Json =>
  mapValues(isObject(fields) ? fields : {}, (definition, name) =>
    renameInField(definition as FieldDoc, { ...place, field: `${field}.${name}` }, rename),
  );

/** How a value is computed names fields to itself type, or a field of another type whose references are counted. */
function renameInComputed(computed: Json, place: FieldPlace, rename: Rename): Json {
  const { type } = place;
  if (!isObject(computed)) return computed;
  if (typeof computed.cel === 'string') {
    const cel = renameNamed(computed.cel, [rename], place);
    return {
      cel: rename.what === 'field' && rename.type === type ? renameInExpression(cel, rename.from, rename.to) : cel,
    };
  }

  const [counted = '', ...field] = String(computed.count).split('.');
  if (rename.what === 'type' && rename.from === counted) return { count: [rename.to, ...field].join('.') };
  if (rename.what !== 'field' || rename.type !== counted) return computed;

  const depth = rename.from.split('.').length;
  const isNamed = field.slice(0, depth).join('.') === rename.from;

  if (!isNamed) return computed;
  return { count: [counted, ...beside(rename.from, rename.to).split('.'), ...field.slice(depth)].join('.') };
}

function renameTerm(taxonomy: TaxonomyDoc, from: string, to: string): TaxonomyDoc {
  const inBranch = (branch: Branch): Branch => ({
    ...branch,
    ...(branch.terms ? { terms: branch.terms.map(inBranch) } : {}),
    term: branch.term === from ? to : branch.term,
  });

  const inTerm = (term: TermDoc): TermDoc => {
    if (typeof term.retired === 'object' && term.retired.use === from) return { ...term, retired: { use: to } };
    return term;
  };

  return {
    ...taxonomy,
    ...(taxonomy.collections
      ? {
          collections: taxonomy.collections.map((collection) => ({
            ...collection,
            members: collection.members.map((member) => (member === from ? to : member)),
          })),
        }
      : {}),
    terms: mapValues(renameKey(taxonomy.terms, from, to), inTerm),
    tree: taxonomy.tree.map(inBranch),
  };
}

/** A taxonomy that borrows by other addresses: the taxonomy and the last term of each go through a function. */
function withBorrows(
  taxonomy: TaxonomyDoc,
  change: (taxonomy: string, term: string) => readonly [string, string],
): TaxonomyDoc {
  if (!taxonomy.borrows) return taxonomy;

  const borrows = taxonomy.borrows.map((address) => {
    const colon = address.indexOf(':');
    const [term = '', ...above] = address
      .slice(colon + 1)
      .split('/')
      .reverse();
    const [lender, last] = change(address.slice(0, colon), term);
    return `${lender}:${[last, ...above].reverse().join('/')}`;
  });

  return { ...taxonomy, borrows };
}

/** A rename of a term, and the same in each taxonomy that borrows it. */
function withBorrowers(rename: Rename, model: ModelDoc): readonly Rename[] {
  if (rename.what !== 'term') return [rename];
  const lent = Object.entries(model.taxonomies).filter(
    ([name, { borrows }]) =>
      borrows && link(model).taxonomies.get(name)?.terms.get(rename.from)?.borrowedFrom === rename.taxonomy,
  );

  return [rename, ...lent.map(([taxonomy]) => ({ ...rename, taxonomy }))];
}

type Linked = NonNullable<ReturnType<typeof linkField>>;

function renameInValue(value: Json, field: Linked, rename: Rename): Json {
  return mapLeaves(field, value, (item, { kind, options, type, name }) =>
    kind.renameInValue ? kind.renameInValue(item, options, rename, { type, field: name }) : item,
  );
}

/**
 * Compiles which values of an entry a rename touches, as they are afterwards; field names are those from before.
 * @param model the model before the rename.
 */
export function valueRenamer(
  model: ModelDoc,
  rename: Rename,
): (fields: JsonObject, type: Type) => ReadonlyMap<string, Json> {
  const renames = withBorrowers(rename, model);
  const touched = onceFor(({ fields }: Type) => [...fields.values()].filter(mayNameThings));
  return (fields, type) => renamedValues(fields, touched(type), renames);
}

/** Whether values of a field, or of one inside it, name something of the model or an entry. */
const mayNameThings = (field: Field): boolean =>
  [field, ...fieldsWithin(field.fields)].some(({ kind }) => kind.renameInValue !== undefined);

function renamedValues(
  fields: JsonObject,
  touched: readonly Field[],
  renames: readonly Rename[],
): ReadonlyMap<string, Json> {
  const changed = new Map<string, Json>();
  for (const field of touched) {
    const value = ownValue(fields, field.name);
    if (value === undefined || value === null) continue;
    const after = renames.reduce<Json>((result, rename) => renameInValue(result, field, rename), value);
    if (!equal(after, value)) changed.set(field.name, after);
  }

  return changed;
}

/** The values of an entry that point at entries which have other addresses now, as they are then. */
export function relocatedValues(fields: JsonObject, type: Type, elsewhere: Elsewhere): ReadonlyMap<string, Json> {
  const changed = new Map<string, Json>();
  for (const field of type.fields.values()) {
    const value = ownValue(fields, field.name);
    if (value === undefined || value === null) continue;

    const after = mapLeaves(
      field,
      value,
      (item, { kind, options }) => kind.relocated?.(item, elsewhere, options) ?? item,
    );
    if (!equal(after, value)) changed.set(field.name, after);
  }

  return changed;
}

/** The names that things of the same sort have in a model, among which a new name has to be free. */
export function namesBeside(model: ModelDoc, rename: Rename): readonly string[] {
  switch (rename.what) {
    case 'type':
      return Object.keys(model.types);
    case 'field':
      return Object.keys(siblingsOf(ownValue(model.types, rename.type)?.fields ?? {}, rename.from));
    case 'taxonomy':
      return Object.keys(model.taxonomies);
    case 'term':
      return Object.keys(ownValue(model.taxonomies, rename.taxonomy)?.terms ?? {});
    case 'choice': {
      const definition = formOf(ownValue(model.types, rename.type)?.fields ?? {}, rename.field);
      const field = definition && linkField(rename, rename.field, definition);
      if (!field) return [];
      return field.kind.members(field.options).map(({ name }) => name);
    }
  }
}
