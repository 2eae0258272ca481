import type { Entry } from '../entry/entry.ts';
import type { Model, Type } from '../model/link.ts';
import { fieldsOf } from '../model/ownFields.ts';
import { isObject, type JsonObject, own } from '../plain/json.ts';
import { expressionsOver } from '../rules/expression.ts';
import { type LookedUp, mayLookUp } from '../rules/lookUp.ts';

/** The names of the fields, by type, whose values the rules and computed fields of a model look up in other entries. */
export function lookedUpByType(model: Model): ReadonlyMap<string, ReadonlySet<string>> {
  const all = Object.entries(model.definition.types).flatMap(([name, { rules = [], fields }]) => {
    const computed = Object.values(fields).flatMap(({ computed: one }) =>
      isObject(one) && typeof one.cel === 'string' ? [one.cel] : [],
    );
    const sources = [...rules.map(({ expect }) => expect), ...computed].filter(mayLookUp);
    const type = sources.length > 0 ? model.types.get(name) : undefined;
    if (!type) return [];
    const compile = expressionsOver(type);
    return sources.map(compile).flatMap((one) => ('problem' in one ? [] : one.looksUp));
  });
  return byType(all, model);
}

/** The same of some look-ups: those of a type are those of every type that is accepted as it. */
export function byType(all: readonly LookedUp[], model: Model): ReadonlyMap<string, ReadonlySet<string>> {
  const names = new Map<string, Set<string>>();
  for (const { type, field } of all)
    for (const one of model.context.acceptedAs(type)) {
      const known = names.get(one) ?? new Set<string>();
      names.set(one, known.add(field.name));
    }
  return names;
}

/** The values that an entry has in some fields. */
export function valuesLookedUp(entry: Entry, type: Type, names: ReadonlySet<string>): JsonObject {
  const values = fieldsOf(entry, type);
  return Object.fromEntries(
    [...names].flatMap((name) => {
      const value = own(values, name);
      return value === undefined ? [] : [[name, value] as const];
    }),
  );
}
