import { type JsonObject, ownValue } from '../plain/json.ts';
import type { Field, Model, Type } from './link.ts';
import { isMade, leaves } from './traversal.ts';

/** A term that a value of an entry is. */
interface TermUse {
  readonly field: Field;
  readonly taxonomy: string;
  readonly term: string;
}

/** The terms that the values of an entry's fields are, those inside objects included. */
export function* termsIn(type: Type | undefined, fields: JsonObject): Iterable<TermUse> {
  for (const outer of type?.fields.values() ?? []) {
    if (!outer.kind.term && !isMade(outer)) continue;
    for (const { item, field } of leaves(outer, ownValue(fields, outer.name))) {
      const used = field.kind.term?.(item, field.options);
      if (used) yield { field, ...used };
    }
  }
}

/** The types that references of an entry's fields point at, as their fields name them: a base type for what extends it. */
export function* targetsIn(
  type: Type,
  fields: JsonObject,
  { context }: Model,
): Iterable<{ readonly field: Field; readonly type: string }> {
  for (const outer of type.fields.values()) {
    if (!outer.kind.links && !isMade(outer)) continue;
    for (const { item, field } of leaves(outer, ownValue(fields, outer.name))) {
      const { types } = field.kind.pointsAt(field.options);
      for (const { to } of types.length === 0 ? [] : (field.kind.links?.(item, field.options, context) ?? [])) {
        const target = types.find((type) => context.acceptedAs(type).includes(to.type));
        if (target !== undefined) yield { field, type: target };
      }
    }
  }
}
