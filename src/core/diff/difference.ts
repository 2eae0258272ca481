import type { Counter } from './counter.ts';
import type { Carry, ComparedModels, DifferenceKind, NamedDifference } from './differences/define.ts';
import type { EntriesSent } from './differences/entriesSent.ts';
import type { FieldAdded } from './differences/fieldAdded.ts';
import type { FieldChanged } from './differences/fieldChanged.ts';
import type { FieldMovedAlong } from './differences/fieldMovedAlong.ts';
import type { FieldRemoved } from './differences/fieldRemoved.ts';
import type { FieldReshaped } from './differences/fieldReshaped.ts';
import type { FieldSplit } from './differences/fieldSplit.ts';
import type { FieldsJoined } from './differences/fieldsJoined.ts';
import { differenceKinds } from './differences/index.ts';
import type { LanguageChanged } from './differences/languageChanged.ts';
import type { LanguagesChanged } from './differences/languagesChanged.ts';
import type { Moved } from './differences/moved.ts';
import type { ReferenceTurned } from './differences/referenceTurned.ts';
import type { Renamed } from './differences/renamed.ts';
import type { SharedChanged } from './differences/sharedChanged.ts';
import type { TaxonomyAdded } from './differences/taxonomyAdded.ts';
import type { TaxonomyChanged } from './differences/taxonomyChanged.ts';
import type { TaxonomyRemoved } from './differences/taxonomyRemoved.ts';
import type { TermAdded } from './differences/termAdded.ts';
import type { TermChanged } from './differences/termChanged.ts';
import type { TermRemoved } from './differences/termRemoved.ts';
import type { TermsRearranged } from './differences/termsRearranged.ts';
import type { TypeAdded } from './differences/typeAdded.ts';
import type { TypeChanged } from './differences/typeChanged.ts';
import type { TypeRemoved } from './differences/typeRemoved.ts';
import type { ValuesPulled } from './differences/valuesPulled.ts';
import type { FieldPlace } from './fieldValues.ts';
import type { Rating } from './rating.ts';

/**
 * One way in which two models differ once renamed parts have their new names on both sides. A field inside an object is
 * named by its path: `hours.opens`.
 */
export type Difference =
  | Renamed
  | Moved
  | LanguagesChanged
  | LanguageChanged
  | TaxonomyAdded
  | TermAdded
  | TermChanged
  | TaxonomyChanged
  | TypeAdded
  | ValuesPulled
  | FieldReshaped
  | FieldSplit
  | FieldsJoined
  | FieldMovedAlong
  | ReferenceTurned
  | FieldAdded
  | FieldChanged
  | TypeChanged
  | EntriesSent
  | TermRemoved
  | FieldRemoved
  | TypeRemoved
  | TaxonomyRemoved
  | SharedChanged
  | TermsRearranged;

const byName: ReadonlyMap<string, DifferenceKind> = new Map(
  differenceKinds.map((differenceKind) => [differenceKind.name, differenceKind]),
);

/** Facts about differences of a name. @throws {Error} where none has it, which is a fault. */
export function kindOf({ name }: NamedDifference): DifferenceKind {
  const kind = byName.get(name);
  if (!kind) throw new Error(`no difference is called ${name}`);
  return kind;
}

/** The address of what a difference is about, in the names of the newer model. */
export const addressOf = (difference: NamedDifference): string => kindOf(difference).address(difference);

/** A difference in words, without its address: `max 300 → 200`. */
export const sayDifference = (difference: NamedDifference, arrow = '→'): string =>
  kindOf(difference).say(difference, arrow);

/** Rates a difference by the models alone; how many entries it really hits is counted elsewhere. */
export const rateDifference = (difference: NamedDifference, models: ComparedModels): Rating =>
  kindOf(difference).rate(difference, models);

/** A field whose values take another shape by a difference, with how they do; `undefined` where they stay as they are. */
export function carriedField(
  difference: NamedDifference,
  models: ComparedModels,
): (FieldPlace & { readonly carry: Carry }) | undefined {
  const { carries, field } = kindOf(difference);
  const [place, carry] = [field?.(difference), carries?.(difference, models)];
  return place && carry && { type: place.type, field: place.field, carry };
}

/** The counter that a difference calls for; `undefined` where it hits nobody. */
export const counterOf = (difference: NamedDifference, models: ComparedModels): Counter | undefined =>
  kindOf(difference).count?.(difference, models);
