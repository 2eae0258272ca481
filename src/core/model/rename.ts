import { equal, type Json, type JsonObject, mapValues, own, renameKey, withKey } from '../json.ts';
import type { Home, Rename } from '../kinds/define.ts';
import { renameInExpression } from '../rules/expression.ts';
import type { Branch, FieldDoc, ModelDoc, Rule, TaxonomyDoc, TypeDoc } from './document.ts';
import { mapSingles } from './layers.ts';
import { linkField, type Type } from './link.ts';

/** A model after something in it got another name: the thing itself and every mention of it. */
export function renameInModel(model: ModelDoc, rename: Rename): ModelDoc {
  const types = mapValues(
    model.types,
    (type, name): TypeDoc => ({
      ...renameInType(type, name, rename),
      fields: mapValues(type.fields, (field, fieldName) =>
        renameInField(field, { type: name, field: fieldName }, rename),
      ),
    }),
  );
  switch (rename.what) {
    case 'type':
      return { ...model, types: renameKey(types, rename.from, rename.to) };
    case 'field':
      return {
        ...model,
        types: mapValues(types, (type, name) =>
          name === rename.type ? { ...type, fields: renameKey(type.fields, rename.from, rename.to) } : type,
        ),
      };
    case 'taxonomy':
      return { ...model, types, taxonomies: renameKey(model.taxonomies, rename.from, rename.to) };
    case 'term':
      return {
        ...model,
        types,
        taxonomies: mapValues(model.taxonomies, (one, name) =>
          name === rename.taxonomy ? renameTerm(one, rename.from, rename.to) : one,
        ),
      };
    case 'choice':
      return { ...model, types };
  }
}

function renameInType(type: TypeDoc, name: string, rename: Rename): TypeDoc {
  if (rename.what !== 'field' || rename.type !== name) return type;
  const { titled, rules } = type;
  return {
    ...type,
    ...(titled === rename.from ? { titled: rename.to } : {}),
    ...(rules ? { rules: rules.map((rule) => renameInRule(rule, rename.from, rename.to)) } : {}),
  };
}

const renameInRule = (rule: Rule, from: string, to: string): Rule => ({
  ...rule,
  expect: renameInExpression(rule.expect, from, to),
  ...(rule.at === from ? { at: to } : {}),
});

function renameInField(form: FieldDoc, home: Home, rename: Rename): FieldDoc {
  const field = linkField(home.type, home.field, form);
  if (!field) return form;
  const options = field.kind.renameInOptions(field.options, rename, home);
  const renamed = Object.fromEntries(Object.entries(form).map(([key, value]) => [key, own(options, key) ?? value]));
  const preset = own(renamed, 'default');
  const withDefault =
    preset === undefined ? renamed : withKey(renamed, 'default', renameInValue(preset, field, rename));
  return { ...withDefault, kind: form.kind };
}

function renameTerm(taxonomy: TaxonomyDoc, from: string, to: string): TaxonomyDoc {
  const inBranch = (branch: Branch): Branch => ({
    ...(branch.terms ? { terms: branch.terms.map(inBranch) } : {}),
    term: branch.term === from ? to : branch.term,
  });
  return { ...taxonomy, terms: renameKey(taxonomy.terms, from, to), tree: taxonomy.tree.map(inBranch) };
}

type Linked = NonNullable<ReturnType<typeof linkField>>;

function renameInValue(value: Json, field: Linked, rename: Rename): Json {
  const change = field.kind.renameInValue;
  if (!change) return value;
  const home = { type: field.type, field: field.name };
  return mapSingles(field, value, (item) => change(item, field.options, rename, home));
}

/** The values of an entry's fields that a rename touches, as they are afterwards; field names are those from before. */
export function renamedValues(fields: JsonObject, type: Type, rename: Rename): ReadonlyMap<string, Json> {
  const changed = new Map<string, Json>();
  for (const field of type.fields.values()) {
    const value = own(fields, field.name);
    if (value === undefined || value === null) continue;
    const after = renameInValue(value, field, rename);
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
      return Object.keys(own(model.types, rename.type)?.fields ?? {});
    case 'taxonomy':
      return Object.keys(model.taxonomies);
    case 'term':
      return Object.keys(own(model.taxonomies, rename.taxonomy)?.terms ?? {});
    case 'choice': {
      const form = own(own(model.types, rename.type)?.fields ?? {}, rename.field);
      const field = form && linkField(rename.type, rename.field, form);
      return field ? field.kind.members(field.options).map(({ name }) => name) : [];
    }
  }
}
