import type { FieldDoc } from '../definition/field.ts';
import { kinds } from '../kinds/index.ts';
import { hasParts } from '../kinds/traits.ts';
import { isList, isObject } from '../plain/json.ts';
import { canBecome } from './convertValue.ts';
import { fieldsInside } from './nestedFields.ts';

/**
 * The field inside an object that the values of another field can become: the one that every such object has to have, else
 * one of the same kind, else the first. Nothing where there is none, or where an object has to have another one as well.
 * @param called a name that speaks for one before all others.
 */
export function partOfObject(oldField: FieldDoc, newField: FieldDoc, called?: string): string | undefined {
  if (newField.kind !== 'object' || hasParts(oldField)) return undefined;
  if (kinds.get(oldField.kind)?.isBody(oldField) === true) return undefined;

  const fields = Object.entries(fieldsInside(newField));
  const needed = fields.filter(([, { required }]) => required === true);
  if (needed.length > 1) return undefined;

  const fitting = (needed.length === 1 ? needed : fields).filter(([, { kind }]) => canBecome(oldField.kind, kind));
  const [best] =
    fitting.find(([key]) => key === called) ??
    fitting.find(([, { kind }]) => kind === oldField.kind) ??
    fitting[0] ??
    [];

  return best;
}

/**
 * The key of a map under which the values of another field can stand: the main language, or the only choice that there is.
 * Nothing where the values do not fit there, or where several keys may be intended.
 * @param mainLanguage the main language of the workspace.
 */
export function keyOfMap(oldField: FieldDoc, newField: FieldDoc, mainLanguage: string): string | undefined {
  if (newField.kind !== 'map' || hasParts(oldField) || oldField.localized !== undefined) return undefined;

  const [keys, value] = [newField.keys, newField.value];
  if (!isObject(keys) || !isObject(value) || !canBecome(oldField.kind, String(value.kind))) return undefined;
  if (kinds.get(String(keys.kind))?.usesLanguages) return mainLanguage;

  const [only, ...rest] = isList(keys.choices) ? keys.choices : [];
  if (keys.kind !== 'choice' || only === undefined || rest.length > 0) return undefined;
  if (isObject(only)) return String(only.choice);
  return String(only);
}
