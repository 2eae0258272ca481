import type { FieldDoc } from '../definition/field.ts';
import { canBecome } from '../model/convertValue.ts';
import { fieldsInside } from '../model/nestedFields.ts';
import { partOfObject } from '../model/partOfObject.ts';
import { saySeparator } from '../model/separators.ts';
import { sameShape, sayShape } from '../model/traversal.ts';
import { isObject, type JsonObject } from '../plain/json.ts';
import { onceFor } from '../plain/once.ts';
import { count } from '../plain/words.ts';
import type { Fit } from './evidence.ts';
import { isSameName, likeNames, nameReason, shared, unlike, type Weight, weigh } from './likeness.ts';

/** A field with its name. */
type NamedField = readonly [name: string, definition: FieldDoc];

/**
 * How sure it is that one field became another: by names, shapes and options, and by compared values.
 * @param fitOf how well the values of the one fit the other.
 */
export function likeFields(oldField: NamedField, newField: NamedField, fitOf: () => Fit | undefined): Weight {
  const [, a] = oldField;
  const [, b] = newField;
  const part = b.many === undefined ? undefined : partOfObject(a, b, oldField[0]);
  if (part !== undefined) return likeItems(oldField, newField, part);

  const alike = sameShape(a, b) ? likeInShape(oldField, newField) : likeInNames(oldField, newField);
  // What no value could make worth saying is not asked of them.
  const isMade = b.kind === 'object' || b.kind === 'map'; // Inner fields may have other names as well.
  if (isMade || alike.sure < leastToAsk(b)) return alike;
  return withValues(alike, fitOf(), oldField, newField);
}

/** Two definitions that store their values alike. */
function likeInShape([from, a]: NamedField, [to, b]: NamedField): Weight {
  const options = shared(optionTraits(a), optionTraits(b));
  const names = likeNames(from, to);
  if (0.35 + 0.25 * options + 0.4 * names < leastToAsk(b)) return unlike;
  return weigh([
    [0.35, 1, () => `both are ${sayShape(a)}`],
    [0.25, options, () => (options === 1 ? 'with the same options' : 'with some options in common')],
    [0.4, names, () => nameReason(from, to)],
  ]);
}

/** Two definitions that store their values otherwise: a rename that is a change as well, as far as one can become the other. */
function likeInNames([from, a]: NamedField, [to, b]: NamedField): Weight {
  if (!canBecome(a.kind, b.kind)) return unlike;

  const kinds = a.kind === b.kind ? 0.9 : 0.6;
  const options = shared(optionTraits(a), optionTraits(b));
  const names = likeNames(from, to);
  if (0.3 * kinds + 0.1 * options + 0.6 * names < leastToAsk(b)) return unlike;
  return weigh([
    [0.3, kinds, () => `${sayShape(a)} can become ${sayShape(b)}`],
    [0.1, options, () => 'with options in common'],
    [0.6, names, () => nameReason(from, to)],
  ]);
}

/** A field whose values can be what one inside the items of a list is: `url` as the `url` of each of `links`. */
function likeItems([from, a]: NamedField, [to, b]: NamedField, part: string): Weight {
  const inside = fieldsInside(b);
  const kinds = inside[part]?.kind === a.kind ? 1 : 0.7;
  const [asItem, asList] = [likeNames(from, part), likeNames(from, to)];
  // Of several things that an item may have, one that is called alike says less.
  const isAll = inside[part]?.required === true || Object.keys(inside).length === 1;
  const names = Math.max(isAll ? asItem : 0.6 * asItem, asList);

  return weigh([
    [0.4, kinds, () => `${sayShape(a)} can be the \`${part}\` of an object`],
    [0.6, names, () => (asItem > asList ? `the names share “${part}”` : nameReason(from, to))],
  ]);
}

/**
 * A likeness after comparing values: where few would fit it is hardly one, unless the name is the same but for
 * how it is written; where all fit a strict field it is more.
 */
function withValues(
  { sure: certainty, reasons }: Weight,
  fit: Fit | undefined,
  [from]: NamedField,
  [to, newField]: NamedField,
): Weight {
  if (!fit || fit.of === 0) return { sure: certainty, reasons };

  const part = fit.fits / fit.of;
  if (part < 0.5) {
    const least = isSameName(from, to) ? 0.9 : 0.55;
    return {
      sure: certainty * (least + (1 - least) * part),
      reasons: () => [
        ...reasons(),
        `but ${fit.fits === 0 ? 'none' : `only ${fit.fits}`} of ${count(fit.of, 'value')} would fit`,
      ],
    };
  }

  const weight = isTelling(newField) || fit.separator !== undefined ? 0.5 : 0.35;
  if (part < 0.95 || fit.of < 2 || !(isStrict(newField) || fit.separator !== undefined))
    return { sure: certainty, reasons };

  const share = fit.fits === fit.of ? `all ${fit.of} values` : `${fit.fits} of ${fit.of} values`;
  const verb =
    fit.separator === undefined ? 'fit' : `are lists with ${saySeparator(fit.separator)} between their items`;

  return {
    sure: Math.min(0.99, certainty + (1 - certainty) * weight),
    reasons: () => [...reasons(), `${share} ${verb}`],
  };
}

/** How sure it has to be without the values, so that these could make it worth saying. */
const leastToAsk = (newField: FieldDoc): number => {
  if (isTelling(newField)) return 0.2;
  return 0.35;
};

/** The kinds whose values look unlike any other. */
const telling: ReadonlySet<string> = new Set(
  'date dateTime time duration email webAddress colour point choice term language asset'.split(' '),
);
const isTelling = ({ kind, pattern, many }: FieldDoc): boolean =>
  telling.has(kind) || pattern !== undefined || many !== undefined;

/** Whether a field takes only some of what its kind could hold, so that it says something where values fit. */
const isStrict = ({ kind, pattern }: FieldDoc): boolean =>
  pattern !== undefined || !['text', 'longText', 'markdown', 'richText', 'json', 'object', 'boolean'].includes(kind);

/** What the fields inside an object are, each for itself. */
const fieldTraits = (fields: JsonObject): readonly string[] =>
  Object.entries(fields).map(([name, field]) => `${name} ${isObject(field) ? String(field.kind) : ''}`);

const optionTraits = onceFor((field: FieldDoc): readonly string[] =>
  Object.entries(field)
    .filter(([key]) => key !== 'label' && key !== 'help')
    .flatMap(([key, value]) =>
      key === 'fields' && isObject(value) ? fieldTraits(value) : [`${key}=${JSON.stringify(value)}`],
    ),
);
