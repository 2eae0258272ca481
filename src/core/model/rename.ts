import { renameInExpression } from '../cel/names.ts';
import type { FieldDoc } from '../definition/field.ts';
import { beside, keyOfField } from '../definition/fieldName.ts';
import type { ModelDoc } from '../definition/model.ts';
import type { Home, Rename } from '../definition/rename.ts';
import type { Shared } from '../definition/shared.ts';
import type { Rule, TypeDoc } from '../definition/type.ts';
import { grouped } from '../plain/grouped.ts';
import { compact, isObject, type Json, mapValues, ownValue, renameKey } from '../plain/json.ts';
import { onceFor } from '../plain/once.ts';
import { linkField } from './link.ts';
import { isKeyAlone, type Mention, mentionsOf } from './mentions.ts';
import { withSiblings } from './nestedFields.ts';
import { renamedInPreview } from './previews.ts';
import { type Place, renamedPath, renameNamed } from './renameInTexts.ts';
import { renameTerm, withBorrows } from './renameTerms.ts';
import { renameInValue, withBorrowers } from './renameValues.ts';

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
        types: mapValues(types, (type, name) => (name === rename.type ? withFieldKey(type, rename) : type)),
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
        taxonomies: mapValues(model.taxonomies, (taxonomy, name) => {
          if (name === rename.taxonomy) return renameTerm(taxonomy, rename.from, rename.to);
          return withBorrows(taxonomy, (lender, term) => [
            lender,
            lender === rename.taxonomy && term === rename.from ? rename.to : term,
          ]);
        }),
      };
    case 'choice':
      return { ...model, types };
  }
}

/** A type whose field has another key. */
const withFieldKey = (type: TypeDoc, { from, to }: FieldRename): TypeDoc => ({
  ...type,
  fields: withSiblings(type.fields, from, (fields) => renameKey(fields, keyOfField(from), to)),
});

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

/** Types after renames of fields that only their own keys mention. */
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
      previews: previews && mapValues(previews, (preview) => renamedInPreview(preview, renamed)),
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
