import { keyOfField } from '../definition/fieldName.ts';
import { asJson, type ModelDoc } from '../definition/model.ts';
import { addressOfRename, type Rename } from '../definition/rename.ts';
import { link, linkField } from '../model/link.ts';
import { namesWithin, provenanceOf } from '../model/provenance.ts';
import { renameAll, renameInModel } from '../model/rename.ts';
import { equal } from '../plain/json.ts';
import { onceFor } from '../plain/once.ts';
import { isApart } from './apart.ts';
import type { RenameGuess } from './differences/renamed.ts';
import type { Evidence } from './evidence.ts';
import { finderOf, type Guess, levelFinders, orderedFinders, type ValuesByField } from './renameFinders.ts';
import type { Misstated, StatedRenames } from './statedRenames.ts';
import { inNewNames, inOldNames, misstatedIn } from './statedRenames.ts';

/**
 * Recognises what only got another name. Outer things come first (a type before its fields), and each rename is
 * carried out before the next is looked for, so that what mentions a renamed thing does not look changed.
 *
 * Statements may use the old or the new names of outer parts: `light.height=focalHeight` where `light`
 * became `lighthouse`.
 *
 * @param evidence what the values in the entries say, where these are known.
 * @returns the renames, the older model with all of them carried out, and stated renames of missing parts.
 */
export function matchRenames(
  before: ModelDoc,
  after: ModelDoc,
  stated: StatedRenames,
  evidence?: Evidence,
): MatchedRenames {
  const matching = new Matching(before, after, stated, evidence);
  for (const find of orderedFinders) {
    matching.takeStated(find);
    // Sure renames are applied before the search goes on, so that conditions that name them match.
    while (matching.takeSure(find));
  }

  return matching.result;
}

/** The recognised renames. */
interface MatchedRenames {
  readonly renames: readonly RenameGuess[];
  readonly renamed: ModelDoc;
  readonly misstated: readonly Misstated[];
}

type Finder = (typeof orderedFinders)[number];

/** The renames that were recognised so far, with the model after them. */
class Matching {
  readonly #after: ModelDoc;
  readonly #stated: StatedRenames;
  readonly #evidence: Evidence | undefined;
  readonly #renames: RenameGuess[] = [];
  readonly #misstated: Misstated[] = [];
  readonly #refused = new Set<string>();
  /** The first rename that was recognised of each source. */
  readonly #first = new Map<string, Rename>();
  #model: ModelDoc;

  constructor(before: ModelDoc, after: ModelDoc, stated: StatedRenames, evidence: Evidence | undefined) {
    this.#model = before;
    this.#after = after;
    this.#stated = stated;
    this.#evidence = evidence;
  }

  get result(): MatchedRenames {
    return { renames: this.#renames, renamed: this.#model, misstated: this.#misstated };
  }

  /** Carries out the stated renames that a finder would look for. */
  takeStated(find: Finder): void {
    for (const stated of this.#stated.renames.filter((rename) => find === finderOf(rename))) {
      const rename = inNewNames(stated, this.#renames);
      if (isAmong(this.#renames, rename)) continue; // What inherits a field was renamed with it.

      const mistake = misstatedIn(rename, this.#model, this.#after);
      if (mistake) {
        this.#misstated.push(mistake);
        continue;
      }

      const heirs = heirsOf(rename, this.#model, this.#after);
      this.#accept({ rename, sure: 1, reasons: ['you said so'], stated: true });
      for (const heir of heirs) this.#accept({ ...heir, stated: true });
    }
  }

  /** Carries out what a finder is sure of, or all that it finds. @returns whether it may find more after that. */
  takeSure(find: Finder): boolean {
    const guesses = this.#guesses(find);
    const certain = guesses.filter((guess) => guess.sure >= sureEnough);
    const isLast = certain.length === 0 || certain.length === guesses.length;
    this.#takeOver(isLast ? guesses : certain);
    return !isLast;
  }

  #accept(guess: RenameGuess): void {
    this.#renames.push(guess);
    this.#model = renameInModel(this.#model, guess.rename);
  }

  #guesses(find: Finder): readonly Guess[] {
    const [model, renames] = [this.#model, this.#renames];
    const isRefused = (rename: Rename): boolean => this.#isRefused(rename, model);
    const valuesOf = valuesSeen(this.#evidence, this.#after, renames);

    // A field may get the same name at several levels: each speaks for the others.
    const levels = levelFinders.includes(find) ? levelFinders : [];
    const { apart } = this.#stated;
    const looking = { seen: valuesOf, apart, isRefused };
    const alone = levels.flatMap((level) =>
      level(model, this.#after, { ...looking, sameElsewhere: sameNamesIn(renames) }),
    );

    return find(model, this.#after, { ...looking, sameElsewhere: sameNamesIn([...renames, ...alone]) });
  }

  /** Whether somebody said that something did not get that name. What goes with it is refused, too. */
  #isRefused(rename: Rename, model: ModelDoc): boolean {
    const { apart } = this.#stated;
    const isNone = [rename, inOldNames(rename, this.#renames)].some((form) =>
      isApart(apart, addressOfRename(form), form.to),
    );
    if (isNone) this.#refused.add(source(rename, model));
    return isNone;
  }

  /** Takes guesses of one sort over into the model, but for those that go with a refused one. */
  #takeOver(guesses: readonly Guess[]): void {
    const recognised: RenameGuess[] = [];
    for (const guess of definedFirst(guesses, this.#model)) {
      const place = source(guess.rename, this.#model);
      if (this.#refused.has(place)) continue;
      const leader = this.#first.get(place);
      if (!leader) this.#first.set(place, guess.rename);
      recognised.push({ ...guess, stated: false, ...(leader ? { follows: addressOfRename(leader) } : {}) });
    }

    this.#renames.push(...recognised);
    this.#model = renameAll(
      this.#model,
      recognised.map(({ rename }) => rename),
    );
  }
}

/** How sure a rename has to be to be carried out before others are looked for. */
const sureEnough = 0.9;

/** Finds a field that got the same name instead of the same one as another, elsewhere. */
function sameNamesIn(guesses: readonly Guess[]): (rename: Rename) => string | undefined {
  const places = new Map<string, string[]>();
  for (const { rename } of guesses) {
    if (rename.what !== 'field') continue;
    const names = `${keyOfField(rename.from)}=${rename.to}`;
    places.set(names, [...(places.get(names) ?? []), addressOfRename(rename)]);
  }

  return (rename) => {
    const renamedAddress = addressOfRename(rename);
    return places.get(`${keyOfField(rename.from)}=${rename.to}`)?.find((address) => address !== renamedAddress);
  };
}

const linkOnce = onceFor((model: ModelDoc) => link(model));

function valuesSeen(evidence: Evidence | undefined, after: ModelDoc, renames: readonly RenameGuess[]): ValuesByField {
  const { context } = linkOnce(after);
  return (rename, definition, most) => {
    const old = inOldNames({ what: 'field', ...rename }, renames);
    const newField = evidence && linkField(rename, rename.to, definition);
    if (newField && old.what === 'field')
      return evidence?.fit({ type: old.type, field: old.from }, newField, context, most);
    return undefined;
  };
}

const isAmong = (done: readonly RenameGuess[], candidate: Rename): boolean =>
  done.some(({ rename }) => equal(asJson(rename), asJson(candidate)));

/** The field that a rename is about, if it is about one. */
function fieldOf(rename: Rename): string | undefined {
  if (rename.what === 'field') return rename.from;
  if (rename.what !== 'choice') return undefined;
  return rename.field;
}

/** The type, the kit or the field itself that a rename was made in, with the new name: renames with the same source go together. */
function source(rename: Rename, model: ModelDoc): string {
  const field = fieldOf(rename);
  if (field === undefined || !('type' in rename)) return addressOfRename(rename);
  const maker = provenanceOf(model, rename.type, field).findLast((part) => part.field !== undefined);
  const member = rename.what === 'choice' ? `:${rename.from}` : '';
  return `${maker?.name ?? rename.type}.${maker?.field ?? field}${member}=${rename.to}`;
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

  const definition = source(rename, model);
  return Object.entries(model.types)
    .flatMap(([type, { fields }]) => alike(rename, type, namesWithin(fields)))
    .filter((other) => addressOfRename(other) !== addressOfRename(rename) && source(other, model) === definition)
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
