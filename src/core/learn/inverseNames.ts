import { isName, nameFrom } from '../definition/address.ts';
import { isReference } from '../kinds/traits.ts';
import { isList, type Json } from '../plain/json.ts';
import type { LearntType } from './learntModel.ts';
import type { LearntField } from './value.ts';

/**
 * Types whose references have a name from the other side as well: what points there is called by its type, `tour`; where
 * several fields do, or something there is called so already, by its field as well, `tourByGuide`. It is a first name: no
 * value depends on it.
 */
export function withInverses(types: readonly LearntType[]): readonly LearntType[] {
  const usedNames = new Map(types.map(({ name, fields }) => [name, new Set(fields.map((field) => field.name))]));
  const isShared = (type: LearntType, target: string): boolean =>
    type.fields.filter((field) => targetOf(field) === target).length > 1;

  return types.map((type) => ({
    ...type,
    fields: type.fields.map((field) => {
      const target = targetOf(field);
      const names = target === undefined ? undefined : usedNames.get(target);
      if (target === undefined || !names) return field;

      const byField = nameFrom(`${type.name} by ${field.name}`);
      const inverse = [...(isShared(type, target) ? [] : [type.name]), byField].find(
        (name) => isName(name) && !names.has(name),
      );
      if (inverse === undefined) return field;

      names.add(inverse);

      return { ...field, definition: { ...field.definition, inverse } };
    }),
  }));
}

/** The type that a field points at, where it is one alone. */
function targetOf({ definition }: LearntField): string | undefined {
  const to: Json | undefined = isReference(definition) ? definition.to : undefined;
  if (isList(to)) return to.length === 1 ? String(to[0]) : undefined;
  if (to === undefined) return undefined;
  return String(to);
}
