import type { FieldDoc } from '../definition/field.ts';
import { asJson, type ModelDoc } from '../definition/model.ts';
import { addressOfRename, type Rename } from '../definition/rename.ts';
import type { TypeDoc } from '../definition/type.ts';
import { link, linkField } from '../model/link.ts';
import { fieldsInside } from '../model/nestedFields.ts';
import { namesWithin, provenanceOf } from '../model/provenance.ts';
import { renameAll, renameInModel } from '../model/rename.ts';
import { equal, own } from '../plain/json.ts';
import { onceFor } from '../plain/once.ts';
import { linkTaxonomyOf, type Taxonomy } from '../taxonomy/linkTaxonomy.ts';
import type { RenameGuess } from './differences/renamed.ts';
import type { Evidence, Fit } from './evidence.ts';
import { likeFields } from './likeFields.ts';
import type { Weight } from './likeness.ts';
import { gone, likeNames, nameReason, pair, shared, unlike, weigh } from './likeness.ts';
import { type Elsewhere, elsewhereIn } from './matchMoves.ts';
import type { Misstated, StatedRenames } from './statedRenames.ts';
import { inNewNames, inOldNames, misstatedIn } from './statedRenames.ts';
import { typesThatDiffer } from './typesThatDiffer.ts';

/**
 * Recognises what only got another name. Outer things come first (a type before its fields), and each rename is
 * carried out before the next is looked for, so that what mentions a renamed thing does not look changed.
 *
 * What is stated may call outer things by their old names or their new ones: `light.height=focalHeight` where `light`
 * became `lighthouse`.
 *
 * @param evidence what the values in the entries say, where these are known.
 * @returns the renames, the older model with all of them carried out, and what was stated of things that are not there.
 */
export function matchRenames(
  before: ModelDoc,
  after: ModelDoc,
  stated: StatedRenames,
  evidence?: Evidence,
): {
  readonly renames: readonly RenameGuess[];
  readonly renamed: ModelDoc;
  readonly misstated: readonly Misstated[];
} {
  const renames: RenameGuess[] = [];
  const misstated: Misstated[] = [];
  const refused = new Set<string>();
  /** The first rename that was recognised of each source. */
  const first = new Map<string, Rename>();
  let model = before;
  const accept = (guess: RenameGuess): void => {
    renames.push(guess);
    model = renameInModel(model, guess.rename);
  };

  for (const find of [taxonomyRenames, typeRenames, fieldRenames, innerRenames, termRenames, choiceRenames]) {
    for (const said of stated.renames.filter((one) => find === finderOf(one))) {
      const rename = inNewNames(said, renames);
      if (isAmong(renames, rename)) continue; // What inherits a field was renamed with it.
      const wrong = misstatedIn(rename, model, after);
      if (wrong) {
        misstated.push(wrong);
        continue;
      }
      const heirs = heirsOf(rename, model, after);
      accept({ rename, sure: 1, reasons: ['you said so'], stated: true });
      for (const heir of heirs) accept({ ...heir, stated: true });
    }
    const isApart = (rename: Rename): boolean =>
      [rename, inOldNames(rename, renames)].map(addressOfRename).some((name) => stated.apart.has(name));
    const here = model;
    const seen = valuesSeen(evidence, after, renames);
    const guesses = definedFirst(find(model, after, seen), model);
    const recognised: RenameGuess[] = [];
    for (const { rename } of guesses) if (isApart(rename)) refused.add(source(rename, here));
    for (const guess of guesses) {
      const made = source(guess.rename, here);
      if (isApart(guess.rename) || refused.has(made)) continue;
      const leader = first.get(made);
      if (!leader) first.set(made, guess.rename);
      recognised.push({ ...guess, stated: false, ...(leader ? { follows: addressOfRename(leader) } : {}) });
    }
    renames.push(...recognised);
    model = renameAll(
      model,
      recognised.map(({ rename }) => rename),
    );
  }
  return { renames, renamed: model, misstated };
}

type Guess = Omit<RenameGuess, 'stated'>;

/** How well the values of a field, in the names of the moment, fit the definition of another. */
type Seen = (rename: Omit<Rename & { what: 'field' }, 'what'>, definition: FieldDoc, most: number) => Fit | undefined;

const linkOnce = onceFor((model: ModelDoc) => link(model));

function valuesSeen(evidence: Evidence | undefined, after: ModelDoc, renames: readonly RenameGuess[]): Seen {
  const { context } = linkOnce(after);
  return (rename, definition, most) => {
    const old = inOldNames({ what: 'field', ...rename }, renames);
    const is = evidence && linkField(rename, rename.to, definition);
    return is && old.what === 'field'
      ? evidence?.fit({ type: old.type, field: old.from }, is, context, most)
      : undefined;
  };
}

const isAmong = (done: readonly RenameGuess[], one: Rename): boolean =>
  done.some(({ rename }) => equal(asJson(rename), asJson(one)));

/** The field that a rename is about, if it is about one. */
function fieldOf(rename: Rename): string | undefined {
  if (rename.what === 'field') return rename.from;
  return rename.what === 'choice' ? rename.field : undefined;
}

/** The type, the kit or the field itself that a rename was made in, with the new name: what has the same goes together. */
function source(rename: Rename, model: ModelDoc): string {
  const field = fieldOf(rename);
  if (field === undefined || !('type' in rename)) return addressOfRename(rename);
  const made = provenanceOf(model, rename.type, field).findLast((part) => part.field !== undefined);
  const member = rename.what === 'choice' ? `:${rename.from}` : '';
  return `${made?.name ?? rename.type}.${made?.field ?? field}${member}=${rename.to}`;
}

const isOwn = (rename: Rename, model: ModelDoc): boolean =>
  !('type' in rename) || source(rename, model).startsWith(`${rename.type}.`);

/** Renames in types that define their fields before those in types that take them over. */
const definedFirst = (guesses: readonly Guess[], model: ModelDoc): readonly Guess[] => [
  ...guesses.filter(({ rename }) => isOwn(rename, model)),
  ...guesses.filter(({ rename }) => !isOwn(rename, model)),
];

/** A rename, and the same wherever else the field arrives: in types that inherit it, or that have it by the same kit. */
export const renamesEverywhere = (rename: Rename, model: ModelDoc): readonly Rename[] => [
  rename,
  ...heirsOf(rename, model).map((heir) => heir.rename),
];

/** @param after the newer model, where it is known already; then only where it has the new name. */
function heirsOf(rename: Rename, model: ModelDoc, after?: ModelDoc): readonly Guess[] {
  if (!('type' in rename)) return [];
  const made = source(rename, model);
  return Object.entries(model.types)
    .flatMap(([type, { fields }]) => alike(rename, type, namesWithin(fields)))
    .filter((other) => addressOfRename(other) !== addressOfRename(rename) && source(other, model) === made)
    .filter((heir) => !after || misstatedIn(heir, model, after) === undefined)
    .map((heir) => ({ rename: heir, sure: 1, reasons: ['it is inherited'], follows: addressOfRename(rename) }));
}

/** A rename as it would be in any of some fields. */
const alike = (
  rename: Rename & { readonly type: string },
  type: string,
  fields: readonly string[],
): readonly Rename[] =>
  fields.map((field) => (rename.what === 'choice' ? { ...rename, type, field } : { ...rename, type, from: field }));

function taxonomyRenames(before: ModelDoc, after: ModelDoc): readonly Guess[] {
  return pair(gone(before.taxonomies, after.taxonomies), gone(after.taxonomies, before.taxonomies), (from, to) => {
    const old = Object.keys(own(before.taxonomies, from)?.terms ?? {});
    const terms = shared(old, Object.keys(own(after.taxonomies, to)?.terms ?? {}));
    return weigh([
      [0.65, terms, () => `${Math.round(terms * 100)} % of their terms are the same`],
      [0.35, likeNames(from, to), () => nameReason(from, to)],
    ]);
  }).map(({ from, to, ...sure }) => ({ rename: { what: 'taxonomy', from, to }, ...sure }));
}

function typeRenames(before: ModelDoc, after: ModelDoc): readonly Guess[] {
  return pair(gone(before.types, after.types), gone(after.types, before.types), (from, to) => {
    const fields = shared(fieldTraits(own(before.types, from)), fieldTraits(own(after.types, to)));
    return weigh([
      [0.65, fields, () => `${Math.round(fields * 100)} % of their fields are the same`],
      [0.35, likeNames(from, to), () => nameReason(from, to)],
    ]);
  }).map(({ from, to, ...sure }) => ({ rename: { what: 'type', from, to }, ...sure }));
}

const fieldTraits = (type: TypeDoc | undefined): readonly string[] =>
  Object.entries(type?.fields ?? {}).map(([name, { kind }]) => `${name} ${kind}`);

function fieldRenames(before: ModelDoc, after: ModelDoc, seen: Seen): readonly Guess[] {
  return typesThatDiffer(before, after).flatMap(({ type, was, is }) =>
    renamesAmong({ type, above: '', seen, elsewhere: elsewhereIn(type, before, after) }, was.fields, is.fields),
  );
}

/** Renames of fields inside objects, once the objects themselves have their new names. */
function innerRenames(before: ModelDoc, after: ModelDoc, seen: Seen): readonly Guess[] {
  return typesThatDiffer(before, after).flatMap(({ type, was, is }) =>
    renamesInside({ type, above: '', seen, elsewhere: elsewhereIn(type, before, after) }, was.fields, is.fields),
  );
}

type Fields = TypeDoc['fields'];

/** Where fields stand that are compared: in a type, or in the object that a path leads to. */
interface Level {
  readonly type: string;
  /** The path before their names, with a dot behind it. */
  readonly above: string;
  readonly seen: Seen;
  /** What speaks for fields of the type having been moved. */
  readonly elsewhere: Elsewhere;
}

function renamesInside(level: Level, fields: Fields, others: Fields): readonly Guess[] {
  return Object.entries(fields).flatMap(([key, definition]) => {
    const [was, is] = [fieldsInside(definition), fieldsInside(own(others, key))];
    const here = { ...level, above: `${level.above}${key}.` };
    return [...renamesAmong(here, was, is), ...renamesInside(here, was, is)];
  });
}

/** So many values are asked in all, among fields that stand beside each other: the more pairs, the fewer of each. */
const mostAsked = 20_000;

/** Renames among fields that stand beside each other. */
function renamesAmong({ type, above, seen, elsewhere }: Level, fields: Fields, others: Fields): readonly Guess[] {
  const [old, young] = [gone(fields, others), gone(others, fields)];
  const most = Math.max(5, Math.ceil(mostAsked / Math.max(1, old.length * young.length)));
  const like = (from: string, to: string): Weight => {
    const [a, b] = [own(fields, from), own(others, to)];
    if (!a || !b) return unlike;
    const one = likeFields([from, a], [to, b], () => seen({ type, from: above + from, to: above + to }, b, most));
    const rival = Math.max(elsewhere.gone.get(above + from) ?? 0, elsewhere.isNew.get(above + to) ?? 0);
    return one.sure > rival ? one : unlike;
  };
  return pair(old, young, like).map(({ from, to, ...sure }) => ({
    rename: { what: 'field', type, from: above + from, to },
    ...sure,
  }));
}

function termRenames(before: ModelDoc, after: ModelDoc): readonly Guess[] {
  return Object.entries(before.taxonomies).flatMap(([taxonomy, definition]) => {
    const other = own(after.taxonomies, taxonomy);
    if (!other) return [];
    const here = linkTaxonomyOf(taxonomy, definition);
    const there = linkTaxonomyOf(taxonomy, other);
    const guesses = pair(gone(definition.terms, other.terms), gone(other.terms, definition.terms), (from, to) =>
      likeTerms([from, here], [to, there]),
    );
    return guesses.map(({ from, to, ...sure }) => ({ rename: { what: 'term' as const, taxonomy, from, to }, ...sure }));
  });
}

function likeTerms([from, here]: readonly [string, Taxonomy], [to, there]: readonly [string, Taxonomy]): Weight {
  const a = here.terms.get(from);
  const b = there.terms.get(to);
  if (!a || !b) return unlike;
  const sameParent = a.path.at(-2) === b.path.at(-2);

  return weigh([
    [0.4, likeNames(from, to), () => nameReason(from, to)],
    [0.4, likeNames(a.label, b.label), () => (a.label === b.label ? 'the label is the same' : 'the labels are alike')],
    [0.2, sameParent ? 1 : 0, () => 'under the same term'],
  ]);
}

function choiceRenames(before: ModelDoc, after: ModelDoc): readonly Guess[] {
  return typesThatDiffer(before, after).flatMap(({ type, was, is }) => choicesRenamed(type, '', was.fields, is.fields));
}

/** Renames of choices in some fields, and in the fields inside them. */
function choicesRenamed(type: string, above: string, fields: Fields, others: Fields): readonly Guess[] {
  return Object.entries(fields).flatMap(([key, definition]) => {
    const field = above + key;
    const other = own(others, key);
    if (equal(definition, other)) return [];
    const here = membersOf(type, field, definition);
    const there = membersOf(type, field, other);
    const guesses = pair(gone(here, there), gone(there, here), (from, to) =>
      weigh([
        [0.5, likeNames(from, to), () => nameReason(from, to)],
        [
          0.5,
          likeNames(own(here, from) ?? from, own(there, to) ?? to),
          () => (own(here, from) === own(there, to) ? 'the label is the same' : 'the labels are alike'),
        ],
      ]),
    );

    return [
      ...guesses.map(
        ({ from, to, ...sure }): Guess => ({ rename: { what: 'choice', type, field, from, to }, ...sure }),
      ),
      ...choicesRenamed(type, `${field}.`, fieldsInside(definition), fieldsInside(other)),
    ];
  });
}

function membersOf(type: string, name: string, definition: FieldDoc | undefined): Readonly<Record<string, string>> {
  const field = definition && linkField({ type }, name, definition);
  return Object.fromEntries(
    (field ? field.kind.members(field.options) : []).map((member) => [member.name, member.label]),
  );
}

/** Which of the finders a stated rename goes before: that of its sort; inside objects, after the fields around them. */
const finderOf = ({ what, from }: Rename) => (what === 'field' && from.includes('.') ? innerRenames : finders[what]);

const finders = {
  taxonomy: taxonomyRenames,
  type: typeRenames,
  field: fieldRenames,
  term: termRenames,
  choice: choiceRenames,
} as const;
