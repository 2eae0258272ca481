import type { Comparison } from './compare.ts';
import type { Difference } from './difference.ts';
import type { FieldPlace } from './fieldValues.ts';
import { inOldNames } from './statedRenames.ts';

/**
 * The fields of the older model, by their older names, whose values can tell the changes of them: those that are gone or
 * seem to have another name, in types that have new fields.
 */
export function fieldsInDoubt({ differences, renames }: Comparison): readonly FieldPlace[] {
  const growing = new Set(differences.flatMap(typeWithNew));
  return differences.flatMap((difference) => {
    const removed = goneField(difference);
    if (!removed || !growing.has(removed.type)) return [];
    const old = inOldNames({ what: 'field', type: removed.type, from: removed.field, to: '' }, renames);
    if (old.what !== 'field') return [];
    return [{ type: old.type, field: old.from }];
  });
}

/** The type in which something is new, or has a new name that was guessed. */
function typeWithNew(difference: Difference): readonly string[] {
  if (difference.name === 'field-added') return [difference.type];
  const removed = difference.name === 'renamed' ? goneField(difference) : undefined;
  if (!removed) return [];
  return [removed.type];
}

/** A field that is not where it was, unless somebody has stated its new place. */
function goneField(difference: Difference): FieldPlace | undefined {
  if (difference.name === 'field-removed') return { type: difference.type, field: difference.field };
  if (difference.name !== 'renamed' || difference.stated || difference.rename.what !== 'field') return undefined;
  return { type: difference.rename.type, field: difference.rename.from };
}
