import type { FieldDoc } from '../definition/field.ts';
import type { ModelDoc } from '../definition/model.ts';
import type { Rename } from '../definition/rename.ts';
import type { TypeDoc } from '../definition/type.ts';
import { canBecome } from '../model/convertValue.ts';
import { linkField } from '../model/link.ts';
import { fieldsInside } from '../model/nestedFields.ts';
import { equal, ownValue } from '../plain/json.ts';
import { linkTaxonomyOf, type Taxonomy } from '../taxonomy/linkTaxonomy.ts';
import type { RenameGuess } from './differences/renamed.ts';
import type { Fit } from './evidence.ts';
import { likeFields } from './likeFields.ts';
import { likeNames, nameReason, pair, removedKeys, shared, unlike, type Weight, weigh } from './likeness.ts';
import { type Elsewhere, elsewhereIn } from './matchMoves.ts';
import { typesThatDiffer } from './typesThatDiffer.ts';

/** A rename that is recognised, by one of the finders below: each looks for renames of one sort. */
export type Guess = Omit<RenameGuess, 'stated'>;

/** How well the values of a field, in the names of the moment, fit the definition of another. */
export type ValuesByField = (
  rename: Omit<Rename & { what: 'field' }, 'what'>,
  definition: FieldDoc,
  most: number,
) => Fit | undefined;

/** The facts beside the two models in a search for renames. */
export interface Looking {
  readonly seen: ValuesByField;
  /** What somebody said to be neither renamed nor moved. */
  readonly apart: ReadonlySet<string>;
  /** Whether somebody said that something did not get that name. */
  readonly isRefused: (rename: Rename) => boolean;
  /** The address of another field that got the same name instead of the same one. */
  readonly sameElsewhere: (rename: Rename) => string | undefined;
}

function taxonomyRenames(before: ModelDoc, after: ModelDoc, { isRefused }: Looking): readonly Guess[] {
  return pair(
    removedKeys(before.taxonomies, after.taxonomies),
    removedKeys(after.taxonomies, before.taxonomies),
    (from, to) => {
      if (isRefused({ what: 'taxonomy', from, to })) return unlike;

      const old = Object.keys(ownValue(before.taxonomies, from)?.terms ?? {});
      const terms = shared(old, Object.keys(ownValue(after.taxonomies, to)?.terms ?? {}));
      return weigh([
        [0.65, terms, () => `${Math.round(terms * 100)} % of their terms are the same`],
        [0.35, likeNames(from, to), () => nameReason(from, to)],
      ]);
    },
  ).map(({ from, to, ...weight }) => ({ rename: { what: 'taxonomy', from, to }, ...weight }));
}

function typeRenames(before: ModelDoc, after: ModelDoc, { isRefused }: Looking): readonly Guess[] {
  return pair(removedKeys(before.types, after.types), removedKeys(after.types, before.types), (from, to) => {
    if (isRefused({ what: 'type', from, to })) return unlike;
    const fields = shared(fieldTraits(ownValue(before.types, from)), fieldTraits(ownValue(after.types, to)));
    return weigh([
      [0.65, fields, () => `${Math.round(fields * 100)} % of their fields are the same`],
      [0.35, likeNames(from, to), () => nameReason(from, to)],
    ]);
  }).map(({ from, to, ...weight }) => ({ rename: { what: 'type', from, to }, ...weight }));
}

const fieldTraits = (type: TypeDoc | undefined): readonly string[] =>
  Object.entries(type?.fields ?? {}).map(([name, { kind }]) => `${name} ${kind}`);

function fieldRenames(before: ModelDoc, after: ModelDoc, looking: Looking): readonly Guess[] {
  return typesThatDiffer(before, after).flatMap(({ type, oldType, newType }) => {
    const titles = [oldType.titled, newType.titled] as const;
    return renamesAmong(
      { type, above: '', looking, titles, elsewhere: elsewhereIn(type, before, after, looking.apart) },
      oldType.fields,
      newType.fields,
    );
  });
}

/** Renames of fields inside objects, once the objects themselves have their new names. */
function innerRenames(before: ModelDoc, after: ModelDoc, looking: Looking): readonly Guess[] {
  return typesThatDiffer(before, after).flatMap(({ type, oldType, newType }) =>
    renamesInside(
      { type, above: '', looking, elsewhere: elsewhereIn(type, before, after, looking.apart) },
      oldType.fields,
      newType.fields,
    ),
  );
}

type Fields = TypeDoc['fields'];

/** Where fields stand that are compared: in a type, or in the object that a path leads to. */
interface Level {
  readonly type: string;
  /** The path before their names, with a dot behind it. */
  readonly above: string;
  readonly looking: Looking;
  /** The fields by which the entries are named, before and after: of a type, not of objects. */
  readonly titles?: readonly [was: string | undefined, is: string | undefined];
  /** What speaks for fields of the type having been moved. */
  readonly elsewhere: Elsewhere;
}

function renamesInside(level: Level, fields: Fields, otherFields: Fields): readonly Guess[] {
  return Object.entries(fields).flatMap(([key, definition]) => {
    const [oldFields, newFields] = [fieldsInside(definition), fieldsInside(ownValue(otherFields, key))];
    const { titles: _, ...inside } = level;
    const innerLevel: Level = { ...inside, above: `${level.above}${key}.` };
    return [...renamesAmong(innerLevel, oldFields, newFields), ...renamesInside(innerLevel, oldFields, newFields)];
  });
}

/** The number of values compared among sibling fields: the more pairs, the fewer of each. */
const mostAsked = 20_000;

/** Renames among fields that are beside each other. */
function renamesAmong(
  { type, above, looking, titles, elsewhere }: Level,
  fields: Fields,
  otherFields: Fields,
): readonly Guess[] {
  const [old, young] = [removedKeys(fields, otherFields), removedKeys(otherFields, fields)];
  const most = Math.max(5, Math.ceil(mostAsked / Math.max(1, old.length * young.length)));

  const like = (from: string, to: string): Weight => {
    const [a, b] = [ownValue(fields, from), ownValue(otherFields, to)];
    const rename = { what: 'field' as const, type, from: above + from, to };
    if (!a || !b || looking.isRefused(rename)) return unlike;

    const alike = likeFields([from, a], [to, b], () => looking.seen(rename, b, most));
    const title = titleSign([from, to], titles, [fields, otherFields]);
    const weight = withSigns(alike, [a, b], { title, sameElsewhere: looking.sameElsewhere(rename) });
    const rival = Math.max(elsewhere.gone.get(above + from) ?? 0, elsewhere.isNew.get(above + to) ?? 0);
    if (weight.sure > rival) return weight;
    return unlike;
  };

  return pair(old, young, like).map(({ from, to, ...weight }) => ({
    rename: { what: 'field', type, from: above + from, to },
    ...weight,
  }));
}

type TitleSign = 'both' | 'half' | 'none';

/** What the fields by which entries are named say of a rename, where the type names them by another field than before. */
function titleSign(
  [from, to]: readonly [string, string],
  [oldTitle, newTitle]: NonNullable<Level['titles']> = [undefined, undefined],
  [fields, otherFields]: readonly [Fields, Fields],
): TitleSign {
  const isOther = oldTitle !== undefined && newTitle !== undefined && oldTitle !== newTitle;
  const isCarried = isOther && !Object.hasOwn(otherFields, oldTitle) && !Object.hasOwn(fields, newTitle);
  if (!isCarried || (from !== oldTitle && to !== newTitle)) return 'none';
  if (from === oldTitle && to === newTitle) return 'both';
  return 'half';
}

/** What else speaks for a rename, beside names, options and values. */
interface Signs {
  /** Whether entries are named by the one before and by the other after; `half` where by one of the two alone. */
  readonly title: TitleSign;
  /** The address of a rename between the same names in another place. */
  readonly sameElsewhere: string | undefined;
}

/** A likeness together with signs, which are stronger than what the names say. */
function withSigns(
  alike: Weight,
  [oldField, newField]: readonly [FieldDoc, FieldDoc],
  { title, sameElsewhere }: Signs,
): Weight {
  if (!canBecome(oldField.kind, newField.kind)) return alike;
  if (title === 'half') return { ...alike, sure: alike.sure / 2 };
  if (title === 'both')
    return {
      sure: Math.max(alike.sure, 0.96),
      reasons: () => ['both name their entries (`titled`)', ...alike.reasons()],
    };
  if (sameElsewhere === undefined) return alike;
  return {
    sure: Math.max(alike.sure, 0.85),
    reasons: () => [`\`${sameElsewhere}\` got the same name`, ...alike.reasons()],
  };
}

function termRenames(before: ModelDoc, after: ModelDoc, { isRefused }: Looking): readonly Guess[] {
  return Object.entries(before.taxonomies).flatMap(([taxonomy, definition]) => {
    const other = ownValue(after.taxonomies, taxonomy);
    if (!other) return [];

    const oldLinked = linkTaxonomyOf(taxonomy, definition);
    const newLinked = linkTaxonomyOf(taxonomy, other);
    const guesses = pair(
      removedKeys(definition.terms, other.terms),
      removedKeys(other.terms, definition.terms),
      (from, to) =>
        isRefused({ what: 'term', taxonomy, from, to }) ? unlike : likeTerms([from, oldLinked], [to, newLinked]),
    );

    return guesses.map(({ from, to, ...weight }) => ({
      rename: { what: 'term' as const, taxonomy, from, to },
      ...weight,
    }));
  });
}

function likeTerms(
  [from, oldTaxonomy]: readonly [string, Taxonomy],
  [to, newTaxonomy]: readonly [string, Taxonomy],
): Weight {
  const a = oldTaxonomy.terms.get(from);
  const b = newTaxonomy.terms.get(to);
  if (!a || !b) return unlike;

  const sameParent = a.path.at(-2) === b.path.at(-2);

  return weigh([
    [0.4, likeNames(from, to), () => nameReason(from, to)],
    [0.4, likeNames(a.label, b.label), () => (a.label === b.label ? 'the label is the same' : 'the labels are alike')],
    [0.2, sameParent ? 1 : 0, () => 'under the same term'],
  ]);
}

function choiceRenames(before: ModelDoc, after: ModelDoc, { isRefused }: Looking): readonly Guess[] {
  return typesThatDiffer(before, after).flatMap(({ type, oldType, newType }) =>
    choicesRenamed({ type, above: '', isRefused }, oldType.fields, newType.fields),
  );
}

interface ChoicePlace extends Pick<Looking, 'isRefused'> {
  readonly type: string;
  /** The path before the names of the fields, with a dot behind it. */
  readonly above: string;
}

/** Renames of choices in some fields, and in the fields inside them. */
function choicesRenamed(place: ChoicePlace, fields: Fields, otherFields: Fields): readonly Guess[] {
  const { type, above, isRefused } = place;
  return Object.entries(fields).flatMap(([key, definition]) => {
    const field = above + key;
    const other = ownValue(otherFields, key);
    if (equal(definition, other)) return [];

    const oldMembers = membersOf(type, field, definition);
    const newMembers = membersOf(type, field, other);
    const guesses = pair(removedKeys(oldMembers, newMembers), removedKeys(newMembers, oldMembers), (from, to) => {
      if (isRefused({ what: 'choice', type, field, from, to })) return unlike;
      const labels = [ownValue(oldMembers, from) ?? from, ownValue(newMembers, to) ?? to] as const;
      return weigh([
        [0.5, likeNames(from, to), () => nameReason(from, to)],
        [0.5, likeNames(...labels), () => (labels[0] === labels[1] ? 'the label is the same' : 'the labels are alike')],
      ]);
    });

    return [
      ...guesses.map(
        ({ from, to, ...weight }): Guess => ({ rename: { what: 'choice', type, field, from, to }, ...weight }),
      ),
      ...choicesRenamed({ ...place, above: `${field}.` }, fieldsInside(definition), fieldsInside(other)),
    ];
  });
}

function membersOf(type: string, name: string, definition: FieldDoc | undefined): Readonly<Record<string, string>> {
  const field = definition && linkField({ type }, name, definition);
  return Object.fromEntries(
    (field ? field.kind.members(field.options) : []).map((member) => [member.name, member.label]),
  );
}

/** Which of the finders a stated rename goes before: the one of its sort; inside objects, after the fields around them. */
export const finderOf = ({ what: category, from }: Rename) => {
  if (category === 'field' && from.includes('.')) return innerRenames;
  return finders[category];
};

const finders = {
  taxonomy: taxonomyRenames,
  type: typeRenames,
  field: fieldRenames,
  term: termRenames,
  choice: choiceRenames,
} as const;

/** The finders in the order in which they look: outer things first. */
export const orderedFinders = [taxonomyRenames, typeRenames, fieldRenames, innerRenames, termRenames, choiceRenames];

/** The finders that look for fields: in types, and inside objects. */
export const levelFinders: readonly ((before: ModelDoc, after: ModelDoc, looking: Looking) => readonly Guess[])[] = [
  fieldRenames,
  innerRenames,
];
