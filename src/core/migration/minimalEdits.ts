import { equal, isList, isObject, type Json, type Path } from '../plain/json.ts';

/** The smallest parts of a value that have to be set to turn it into another one. */
export function minimalEdits(
  path: Path,
  old: Json,
  value: Json,
): readonly { readonly path: Path; readonly value: Json }[] {
  if (equal(old, value)) return [];
  const parts = partsThatDiffer(path, old, value);
  const allPlain = parts?.every((part) => !isObject(part.value) && !isList(part.value)) === true;
  if (parts && allPlain) return parts;
  return [{ path, value }];
}

/** The parts of two values of the same outline that differ; `undefined` where the outlines do. */
function partsThatDiffer(
  path: Path,
  old: Json,
  value: Json,
): readonly { readonly path: Path; readonly value: Json }[] | undefined {
  if (isList(old) && isList(value))
    return old.length === value.length
      ? old.flatMap((item, index) => minimalEdits([...path, index], item, value[index] ?? null))
      : undefined;
  if (!isObject(old) || !isObject(value)) return undefined;

  const keys = Object.keys(old);
  const isSameOutline = keys.length === Object.keys(value).length && keys.every((key) => Object.hasOwn(value, key));

  if (!isSameOutline) return undefined;
  return keys.flatMap((key) => minimalEdits([...path, key], old[key] ?? null, value[key] ?? null));
}
