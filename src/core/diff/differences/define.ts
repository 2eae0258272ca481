import type { ModelDoc } from '../../definition/model.ts';
import type { Model } from '../../model/link.ts';
import type { Json, JsonObject } from '../../plain/json.ts';
import type { Counter, Impact, SampledEntry } from '../counter.ts';
import type { DraftedStep } from '../draftedStep.ts';
import type { FieldPlace } from '../fieldValues.ts';
import type { Rating } from '../rating.ts';

/** A difference as long as nobody looks into it: its name leads to its definition. */
export interface NamedDifference {
  readonly name: string;
}

/** What counting said about a difference; `undefined` where nothing was to count. */
export type ImpactOf = (difference: NamedDifference) => Impact | undefined;

/** Gives the new form of a value; nothing where it cannot be carried over. */
export type Carry = (value: Json) => Json | undefined;

/** The models that entries are counted on: the older one in the newer names, and the newer one. */
export interface ComparedModels {
  readonly between: Model;
  readonly after: Model;
  /** An entry with its values in the shapes that fields of the newer model have; as it is where none is reshaped. */
  readonly carried?: (entry: SampledEntry) => SampledEntry;
}

/** What the drafting of a step may look at. */
export interface DraftContext {
  /** The model that the migration leads to. */
  readonly after: ModelDoc;
  readonly impactOf: ImpactOf;
  /** Whether entries may get a value in a field of the newer model. */
  readonly takes: (address: string, value: Json) => boolean;
  /** A difference in the words of a comment. */
  readonly say: (difference: NamedDifference) => string;
}

/** How differences of some kind become steps of a migration. */
interface Draft<D> {
  /** Differences with the same key become one step; those of one name and address where nothing is stated. */
  readonly key?: (difference: D) => string;
  /** Which of two is taken first, where that matters: less than nought for the first of them. */
  readonly order?: (a: D, b: D) => number;
  readonly step: (group: readonly [D, ...D[]], context: DraftContext) => DraftedStep;
}

/** Everything that is known about one way in which two models differ. */
interface Definition<D extends NamedDifference> {
  readonly name: D['name'];
  /** The address of its subject, in the names of the newer model. */
  readonly address: (difference: D) => string;
  /** It in words, without its address: `max 300 → 200`. */
  readonly say: (difference: D, arrow: string) => string;
  /** Its rating by the models alone; the effect on entries is counted. */
  readonly rate: (difference: D, models: ComparedModels) => Rating;
  /** Counts the entries that it hits; absent, or `undefined`, where it hits nobody. */
  readonly count?: (difference: D, models: ComparedModels) => Counter | undefined;
  /** How the values of its field take the shape that it gives them; absent, or `undefined`, where they stay as they are. */
  readonly carries?: (difference: D, models: ComparedModels) => Carry | undefined;
  /** Whether it follows from the listed changes of parts with some names. */
  readonly hide?: (difference: D, addresses: ReadonlySet<string>) => boolean;
  /** The field that it is about, and the side on which that is there; it may have been made in what the type uses. */
  readonly field?: (difference: D) => (FieldPlace & { readonly side: 'before' | 'after' }) | undefined;
  /** What a program is reported beside name, address and rating. */
  readonly details?: (difference: D) => JsonObject;
  readonly draft?: Draft<D>;
}

/** A definition as the rest of the core sees it. */
export type DifferenceKind = Definition<NamedDifference>;

/**
 * Makes a kind of difference from its definition. What such a difference looks like is forgotten here and nowhere else:
 * a difference is only ever handed to the definition of its name, so the cast is true.
 */
export const defineDifference = <D extends NamedDifference>(definition: Definition<D>): DifferenceKind =>
  definition as unknown as DifferenceKind;
