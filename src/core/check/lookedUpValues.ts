import type { Entry } from '../entry/entry.ts';
import type { Model, Type } from '../model/link.ts';
import { fieldsOf } from '../model/ownFields.ts';
import { isObject, type JsonObject, ownValue } from '../plain/json.ts';
import { expressionsOver } from '../rules/expression.ts';
import { type LookedUp, mayLookUp } from '../rules/lookUp.ts';

/** The names of the fields, by type, whose values the rules and computed fields of a model look up in other entries. */
export function lookedUpByType(model: Model): ReadonlyMap<string, ReadonlySet<string>> {
  const lookUps = Object.entries(model.definition.types).flatMap(([name, { rules = [], fields }]) => {
    const computed = Object.values(fields).flatMap(({ computed }) =>
      isObject(computed) && typeof computed.cel === 'string' ? [computed.cel] : [],
    );
    const sources = [...rules.map(({ expect }) => expect), ...computed].filter(mayLookUp);
    const type = sources.length > 0 ? model.types.get(name) : undefined;
    if (!type) return [];

    const compile = expressionsOver(type);
    return sources.map(compile).flatMap((compiled) => ('problem' in compiled ? [] : compiled.looksUp));
  });
  return byType(lookUps, model);
}

/** The same of some look-ups: those of a type are those of every type that is accepted as it. */
export function byType(lookUps: readonly LookedUp[], model: Model): ReadonlyMap<string, ReadonlySet<string>> {
  const names = new Map<string, Set<string>>();
  for (const { type, field } of lookUps)
    for (const accepted of model.context.acceptedAs(type)) {
      const existing = names.get(accepted) ?? new Set<string>();
      names.set(accepted, existing.add(field.name));
    }

  return names;
}

/** The values that an entry has in some fields. */
export function valuesLookedUp(entry: Entry, type: Type, names: ReadonlySet<string>): JsonObject {
  const values = fieldsOf(entry, type);
  return Object.fromEntries(
    [...names].flatMap((name) => {
      const value = ownValue(values, name);
      if (value === undefined) return [];
      return [[name, value] as const];
    }),
  );
}
