import type { FieldDoc } from '../definition/field.ts';
import type { ModelDoc } from '../definition/model.ts';
import { isLine, isReference } from '../kinds/traits.ts';
import { sameShape } from '../model/traversal.ts';
import { isList, isObject, type Json, ownValue } from '../plain/json.ts';
import type { Difference } from './difference.ts';
import type { FieldAdded } from './differences/fieldAdded.ts';
import type { FieldMovedAlong } from './differences/fieldMovedAlong.ts';
import type { FieldRemoved } from './differences/fieldRemoved.ts';
import type { ReferenceTurned } from './differences/referenceTurned.ts';
import { besideSent, sentIn } from './entriesSent.ts';
import type { Parting } from './partings.ts';
import { typesThatDiffer } from './typesThatDiffer.ts';

/** Differences in which related ones are combined. */
export function combined(
  differences: readonly Difference[],
  partings: readonly Parting[],
  {
    before,
    after,
    apart,
  }: { readonly before: ModelDoc; readonly after: ModelDoc; readonly apart: ReadonlySet<string> },
): readonly Difference[] {
  const parted = partings.reduce<readonly Difference[]>(withParting, differences);
  const pulled = parted.map((difference) => asPulled(difference, before, after, apart));
  const turned = turnedIn(pulled).filter(({ type, field }) => !apart.has(`${type}.${field}`));
  const afterTurns = turned.reduce<readonly Difference[]>(withTurned, pulled);
  const along = alongIn(afterTurns, before, after).filter(({ type, field }) => !apart.has(`${type}.${field}`));
  const rest = along.reduce<readonly Difference[]>(withTurned, afterTurns);
  const sent = sentIn(rest, before, after, apart);
  return [...rest.map((difference) => besideSent(difference, sent, after)), ...sent];
}

function withParting(differences: readonly Difference[], parting: Parting): readonly Difference[] {
  const isSplit = parting.name === 'field-split';
  const [removed, added] = isSplit ? [[parting.field], Object.keys(parting.into)] : [parting.fields, [parting.field]];
  const isPart = (difference: Difference): boolean =>
    (difference.name === 'field-removed' && difference.type === parting.type && removed.includes(difference.field)) ||
    (difference.name === 'field-added' && difference.type === parting.type && added.includes(difference.field));
  const parts = differences.filter(isPart);
  // Where one of them was treated as something else after all, they are reported as that.
  if (parts.length !== removed.length + added.length) return differences;
  return differences.flatMap((difference) => {
    if (difference === parts[0]) return [parting];
    if (isPart(difference)) return [];
    return [difference];
  });
}

/** A field whose values become entries of a type that is new. */
function asPulled(difference: Difference, before: ModelDoc, after: ModelDoc, apart: ReadonlySet<string>): Difference {
  if (difference.name !== 'field-reshaped' || apart.has(`${difference.type}.${difference.field}`)) return difference;

  const { oldField, newField } = difference;
  const to = isReference(newField) ? ownValue(newField, 'to') : undefined;
  const [target, ...rest] = isList(to) ? to : [];
  const type = typeof target === 'string' && rest.length === 0 ? ownValue(after.types, target) : undefined;
  const isNew = typeof target === 'string' && !Object.hasOwn(before.types, target);
  if (!type || !isNew || oldField.localized !== undefined || newField.localized !== undefined) return difference;
  if (oldField.kind === 'object') return { ...difference, name: 'values-pulled', as: undefined };

  const as = type.titled ?? Object.entries(type.fields).find(([, field]) => isLine(field))?.[0];
  const isNaming = as !== undefined && ['text', 'longText', 'slug', 'choice', 'term'].includes(oldField.kind);

  if (isNaming && !as.includes('.')) return { ...difference, name: 'values-pulled', as };
  return difference;
}

/** References that are gone on one side and new on the other. */
function turnedIn(differences: readonly Difference[]): readonly ReferenceTurned[] {
  const removed = outerRemoved(differences).filter(hasReference);
  const added = outerAdded(differences).filter(hasReference);
  const matches = removed.flatMap((removal) =>
    added
      .filter(
        (addition) =>
          typesOf(removal.definition).includes(addition.type) && typesOf(addition.definition).includes(removal.type),
      )
      .map((addition) => ({ removal, addition, isSaid: isSaidByName(removal, addition) }))
      // Within one type a reference may as well be called otherwise, or another one.
      .filter(({ addition, isSaid }) => isSaid || removal.type !== addition.type),
  );

  return matches
    .filter((match) => match.isSaid || isAlone(match, matches))
    .map(({ removal, addition }) => ({
      name: 'reference-turned',
      ...bothSides(removal, addition),
    }));
}

/** A field that is gone, and one that is new elsewhere and may be what became of it. */
interface FieldPair {
  readonly removal: FieldRemoved;
  readonly addition: FieldAdded;
}

/** Whether neither field of a pair is in another of the pairs. */
const isAlone = ({ removal, addition }: FieldPair, pairs: readonly FieldPair[]): boolean =>
  pairs.filter((other) => other.removal === removal || other.addition === addition).length === 1;

/** Where the field of a pair was, and where it is now, each with its definition. */
const bothSides = (removal: FieldRemoved, addition: FieldAdded) => ({
  type: removal.type,
  field: removal.field,
  was: removal.definition,
  toType: addition.type,
  toField: addition.field,
  is: addition.definition,
});

/** The fields that are gone, and those that are new, that are in no object. */
const outerRemoved = (differences: readonly Difference[]): readonly FieldRemoved[] =>
  differences.filter(
    (difference): difference is FieldRemoved => difference.name === 'field-removed' && !difference.field.includes('.'),
  );
const outerAdded = (differences: readonly Difference[]): readonly FieldAdded[] =>
  differences.filter(
    (difference): difference is FieldAdded => difference.name === 'field-added' && !difference.field.includes('.'),
  );

const hasReference = ({ definition }: FieldRemoved | FieldAdded): boolean => isReference(definition);
const typesOf = ({ to }: FieldDoc): readonly Json[] => {
  if (isList(to)) return to;
  return [];
};
const inverseOf = ({ inverse }: FieldDoc): Json | undefined => {
  if (!isObject(inverse)) return inverse;
  return ownValue(inverse, 'name');
};

/** Whether each is called as the other calls its other side. */
const isSaidByName = (removal: FieldRemoved, addition: FieldAdded): boolean =>
  inverseOf(removal.definition) === addition.field || inverseOf(addition.definition) === removal.field;

/** Fields that are gone in one type and new under the same name in another, to or from which a reference leads. */
function alongIn(differences: readonly Difference[], before: ModelDoc, after: ModelDoc): readonly FieldMovedAlong[] {
  const added = outerAdded(differences);
  const pairs = outerRemoved(differences).flatMap((removal) =>
    added
      .filter(
        (addition) =>
          addition.field === removal.field &&
          addition.type !== removal.type &&
          sameShape(removal.definition, addition.definition),
      )
      .filter((addition) => removal.definition.computed === undefined && addition.definition.computed === undefined)
      .flatMap((addition) =>
        referencesBetween(removal.type, addition.type, before, after).map((along) => ({
          removal,
          addition,
          along,
        })),
      ),
  );

  return pairs
    .filter((pair) => isAlone(pair, pairs))
    .map(({ removal, addition, along }) => ({
      name: 'field-moved-along',
      ...bothSides(removal, addition),
      along,
    }));
}

/** The addresses of references that lead from one type to another, or back, before and after: a step may change them first. */
const referencesBetween = (a: string, b: string, before: ModelDoc, after: ModelDoc): readonly string[] =>
  [[a, b] as const, [b, a] as const].flatMap(([from, to]) =>
    Object.entries(ownValue(before.types, from)?.fields ?? {}).flatMap(([name, field]) => {
      const sides = [field, ownValue(ownValue(after.types, from)?.fields ?? {}, name)];
      const isLeading = sides.every((side) => side && isReference(side) && typesOf(side).includes(to));
      if (!isLeading) return [];
      return [`${from}.${name}`];
    }),
  );

const withTurned = (
  differences: readonly Difference[],
  turned: ReferenceTurned | FieldMovedAlong,
): readonly Difference[] =>
  differences.flatMap((difference) => {
    if (difference.name === 'field-removed' && difference.type === turned.type && difference.field === turned.field)
      return [turned];
    if (difference.name === 'field-added' && difference.type === turned.toType && difference.field === turned.toField)
      return [];
    return [difference];
  });

/** Fields inside objects that become entries of another type: they are there, and nowhere else. */
export function pulledParts(before: ModelDoc, after: ModelDoc): readonly string[] {
  return typesThatDiffer(before, after).flatMap(({ type, ...sides }) =>
    Object.entries(sides.oldType.fields).flatMap(([field, oldField]) => {
      const newField = ownValue(sides.newType.fields, field);
      const [target] = newField && isReference(newField) ? typesOf(newField) : [];
      const inside = isObject(oldField.fields) ? oldField.fields : {};
      const targetFields = typeof target === 'string' ? (ownValue(after.types, target)?.fields ?? {}) : {};
      return Object.keys(inside).flatMap((name) =>
        Object.hasOwn(targetFields, name) ? [`${type}.${field}.${name}`] : [],
      );
    }),
  );
}
