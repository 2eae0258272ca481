import type { FieldDoc } from '../definition/field.ts';
import { asJson, type ModelDoc } from '../definition/model.ts';
import { addressOfRename } from '../definition/rename.ts';
import type { Branch, TaxonomyDoc, TermDoc } from '../definition/taxonomy.ts';
import type { TypeDoc } from '../definition/type.ts';
import { kinds } from '../kinds/index.ts';
import type { Move } from '../model/move.ts';
import { fieldsInside } from '../model/nestedFields.ts';
import { readField } from '../model/readField.ts';
import { sameShape } from '../model/traversal.ts';
import { compact, equal, type Json, type JsonObject, ownValue, withKey, withoutKey } from '../plain/json.ts';
import { linkTaxonomyOf } from '../taxonomy/linkTaxonomy.ts';
import { combined, pulledParts } from './combine.ts';
import type { Difference } from './difference.ts';
import type { RenameGuess } from './differences/renamed.ts';
import type { Evidence } from './evidence.ts';
import { matchRenames } from './match.ts';
import { type MoveGuess, matchMoves } from './matchMoves.ts';
import type { OptionDifference } from './optionText.ts';
import { partingsIn, partsOf } from './partings.ts';
import type { Misstated, StatedRenames } from './statedRenames.ts';
import { saysTheSame } from './typesThatDiffer.ts';

/** Two models compared by meaning. */
export interface Comparison {
  readonly before: ModelDoc;
  readonly after: ModelDoc;
  readonly renames: readonly RenameGuess[];
  readonly moves: readonly MoveGuess[];
  /** The older model with the renames and the moves carried out: what the other differences start from. */
  readonly renamed: ModelDoc;
  /** Everything that differs, renames first, in a stable order. */
  readonly differences: readonly Difference[];
  /** Stated renames that do not fit the models. */
  readonly misstated: readonly Misstated[];
  /** Moves that were stated and cannot be. */
  readonly misplaced: readonly Move[];
}

/**
 * Compares two models. Comments, layout and the order of keys are no part of either.
 * @param evidence what the values in the entries say of what seems renamed, where these are known.
 */
export function compare(
  before: ModelDoc,
  after: ModelDoc,
  stated: StatedRenames = { renames: [], apart: new Set() },
  evidence?: Evidence,
): Comparison {
  const { moves: statedMoves = [], apart } = stated;
  const partings = partingsIn(before, after, new Set([...apart, ...stated.renames.map(addressOfRename)]), evidence);
  const parted = [
    ...partings.flatMap((parting) => partsOf(parting).map((field) => `${parting.type}.${field}`)),
    ...pulledParts(before, after),
  ];
  const elsewhere = new Set([...apart, ...parted, ...statedMoves.map(({ type, from }) => `${type}.${from}`)]);
  const { renames, renamed: named, misstated } = matchRenames(before, after, { ...stated, apart: elsewhere }, evidence);
  const {
    moves,
    moved: renamed,
    misplaced,
  } = matchMoves(named, after, {
    moves: statedMoves,
    apart: new Set([...apart, ...parted]),
  });
  const differences = combined(
    [
      ...renames.map((guess): Difference => ({ name: 'renamed', ...guess })),
      ...moves.map((guess): Difference => ({ name: 'moved', ...guess })),
      ...languages(renamed, after),
      ...languageOptions(renamed, after),
      ...shared(renamed, after),
      ...each(renamed.taxonomies, after.taxonomies).flatMap(([name, oldTaxonomy, newTaxonomy]) =>
        taxonomy(name, oldTaxonomy, newTaxonomy),
      ),
      ...each(renamed.types, after.types).flatMap(([name, oldType, newType]) => type(name, oldType, newType)),
    ],
    partings,
    { before: renamed, after, apart },
  );

  return { before, after, renames, moves, renamed, differences, misstated, misplaced };
}

function languages({ languages: before }: ModelDoc, { languages: after }: ModelDoc): readonly Difference[] {
  if (equal(before, after)) return [];
  return [{ name: 'languages-changed', before, after }];
}

function languageOptions(
  { languageOptions: oldOptions = {} }: ModelDoc,
  { languageOptions: newOptions = {} }: ModelDoc,
) {
  return each(oldOptions, newOptions).flatMap(([language, before, after]) =>
    options(asJson(before ?? {}), asJson(after ?? {})).map(
      (option): Difference => ({ name: 'language-changed', language, ...option }),
    ),
  );
}

/** Shared definitions. The effect of a change shows in the types that it reaches. */
function shared({ shared: oldShared = {} }: ModelDoc, { shared: newShared = {} }: ModelDoc): readonly Difference[] {
  return (['kinds', 'fields', 'kits', 'types'] as const).flatMap((part) =>
    each<Json>(asJson(oldShared[part] ?? {}), asJson(newShared[part] ?? {})).flatMap(
      ([key, before, after]): readonly Difference[] =>
        equal(before, after) ? [] : [{ name: 'shared-changed', part, key, ...sides(before, after) }],
    ),
  );
}

function type(name: string, oldType: TypeDoc | undefined, newType: TypeDoc | undefined): readonly Difference[] {
  if (!oldType) return newType ? [{ name: 'type-added', type: name, definition: newType }] : [];
  if (!newType) return [{ name: 'type-removed', type: name, definition: oldType }];
  if (saysTheSame(oldType, newType)) return [];
  return [
    ...options(withoutKey(asJson(oldType), 'fields'), withoutKey(asJson(newType), 'fields')).map(
      (option): Difference => ({ name: 'type-changed', type: name, ...option }),
    ),
    ...each(oldType.fields, newType.fields).flatMap(([fieldName, a, b]) => field(name, fieldName, a, b)),
  ];
}

function field(
  typeName: string,
  name: string,
  oldField: FieldDoc | undefined,
  newField: FieldDoc | undefined,
): readonly Difference[] {
  const place = { type: typeName, field: name };
  if (!oldField) return newField ? [{ name: 'field-added', ...place, definition: newField }] : [];
  if (!newField) return [{ name: 'field-removed', ...place, definition: oldField }];
  if (equal(oldField, newField)) return [];

  const bothNest = nests(oldField) && nests(newField);
  const inside = (bothNest ? each(fieldsInside(oldField), fieldsInside(newField)) : []).flatMap(([key, a, b]) =>
    field(typeName, `${name}.${key}`, a, b),
  );
  // An object that is there once becomes many as it is; what changes inside it is reported for itself.
  if (!sameShape(oldField, newField)) {
    const form: FieldDoc = bothNest ? { ...newField, fields: ownValue(oldField, 'fields') ?? {} } : newField;
    const reshaped = withoutBounds(oldField, form);
    return [
      { name: 'field-reshaped', ...place, oldField, newField: reshaped },
      ...options(asJson(reshaped), asJson(form)).map(
        (option): Difference => ({ name: 'field-changed', ...place, oldField: reshaped, isReshaped: true, ...option }),
      ),
      ...inside,
    ];
  }

  const outer = (definition: FieldDoc): JsonObject => {
    if (!bothNest) return definition;
    return withoutKey(definition, 'fields');
  };

  return [
    ...options(outer(oldField), outer(newField)).map(
      (option): Difference => ({ name: 'field-changed', ...place, oldField, ...option }),
    ),
    ...inside,
  ];
}

/** Options that bind entries together, or a field to others: their effects are counted once values have their new shape. */
const lateOptions = ['unique', 'when', 'eligible', 'inverse'] as const;
/** Of a field that applies under a condition, whether it needs a value depends on whole entries. */
const lateUnderCondition = [...lateOptions, 'required', 'mayBeEmpty'] as const;

/** A field in its new shape, with those options as they were that would come or change with it. */
function withoutBounds(oldField: FieldDoc, newField: FieldDoc): FieldDoc {
  const isConditional = oldField.when !== undefined || newField.when !== undefined;
  const reshaped = (isConditional ? lateUnderCondition : lateOptions).reduce<JsonObject>((form, option) => {
    const [before, after] = [ownValue(asJson(oldField) as JsonObject, option), ownValue(form, option)];
    const isTakenAway = after === undefined && option !== 'mayBeEmpty';
    if (isTakenAway || equal(before, after)) return form;
    if (before === undefined || oldField.kind !== newField.kind) return withoutKey(form, option);
    return withKey(form, option, before);
  }, asJson(newField) as JsonObject);
  const read = readField(reshaped);

  // The old options may not exist in the new shape: then all options change at once.
  if (read.field && read.mistakes.length === 0) return read.field;
  return newField;
}

/** Whether the option `fields` of a field holds fields, which are compared one by one. */
const nests = ({ kind }: FieldDoc): boolean => kinds.get(kind)?.nests === true;

function taxonomy(
  name: string,
  oldTaxonomy: TaxonomyDoc | undefined,
  newTaxonomy: TaxonomyDoc | undefined,
): readonly Difference[] {
  if (!oldTaxonomy) return newTaxonomy ? [{ name: 'taxonomy-added', taxonomy: name, definition: newTaxonomy }] : [];
  if (!newTaxonomy) return [{ name: 'taxonomy-removed', taxonomy: name, definition: oldTaxonomy }];

  const ownOptions = (definition: TaxonomyDoc): JsonObject =>
    withoutKey(withoutKey(asJson(definition), 'terms'), 'tree');

  return [
    ...options(ownOptions(oldTaxonomy), ownOptions(newTaxonomy)).map(
      (option): Difference => ({ name: 'taxonomy-changed', taxonomy: name, ...option }),
    ),
    ...each(oldTaxonomy.terms, newTaxonomy.terms).flatMap(([termName, a, b]) =>
      term(name, termName, [oldTaxonomy, a], [newTaxonomy, b]),
    ),
    ...rearranged(name, oldTaxonomy, newTaxonomy),
  ];
}

function term(
  taxonomyName: string,
  name: string,
  [inWas, oldTerm]: readonly [TaxonomyDoc, TermDoc | undefined],
  [inIs, newTerm]: readonly [TaxonomyDoc, TermDoc | undefined],
): readonly Difference[] {
  const path = linkTaxonomyOf(taxonomyName, newTerm ? inIs : inWas).terms.get(name)?.path ?? [name];
  const place = { taxonomy: taxonomyName, path };
  if (!oldTerm) return newTerm ? [{ name: 'term-added', ...place, definition: newTerm }] : [];
  if (!newTerm) return [{ name: 'term-removed', ...place, definition: oldTerm }];
  return options(asJson(oldTerm), asJson(newTerm)).map((option) => ({ name: 'term-changed', ...place, ...option }));
}

/** Whether the terms that both sides have are in another order or under other terms. */
function rearranged(name: string, oldTaxonomy: TaxonomyDoc, newTaxonomy: TaxonomyDoc): readonly Difference[] {
  const places = (definition: TaxonomyDoc, other: TaxonomyDoc): readonly string[] =>
    placesIn(definition.tree, []).flatMap((place) =>
      Object.hasOwn(other.terms, place.at(-1) ?? '')
        ? [place.filter((part) => Object.hasOwn(other.terms, part)).join('/')]
        : [],
    );

  if (equal(places(oldTaxonomy, newTaxonomy), places(newTaxonomy, oldTaxonomy))) return [];
  return [{ name: 'terms-rearranged', taxonomy: name }];
}

/** Every place in a hierarchy, from the top down. */
const placesIn = (tree: readonly Branch[], above: readonly string[]): readonly (readonly string[])[] =>
  tree.flatMap(({ term: name, terms }) => [[...above, name], ...placesIn(terms ?? [], [...above, name])]);

/* ── generic ─────────────────────────────────────────────────────────────────────────────────────────────────── */

/** Every key of either side, in alphabetical order so that the layout of files does not show. */
function each<T>(
  oldItems: Readonly<Record<string, T>>,
  newItems: Readonly<Record<string, T>>,
): readonly (readonly [string, T | undefined, T | undefined])[] {
  const names = [...new Set([...Object.keys(oldItems), ...Object.keys(newItems)])].sort();
  return names.map((name) => [name, ownValue(oldItems, name), ownValue(newItems, name)]);
}

function options(oldOptions: JsonObject, newOptions: JsonObject): readonly OptionDifference[] {
  return each<Json>(oldOptions, newOptions).flatMap(([option, before, after]) =>
    equal(before, after) ? [] : [{ option, ...sides(before, after) }],
  );
}

const sides = (before: Json | undefined, after: Json | undefined) => compact({ before, after });
