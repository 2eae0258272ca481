import type { ModelMap } from '../map/modelMap.ts';
import type { Field, Model, Type } from '../model/link.ts';
import { fieldsWithin } from '../model/nestedFields.ts';
import { makersOf } from '../model/provenance.ts';
import type { FieldProfile, TypeProfile } from '../profile/summary.ts';
import type { Stumbles } from './stumbles.ts';

/** What advice is drawn from: the model, how its fields are used, and what points at what. */
export interface Reviewed {
  readonly model: Model;
  readonly profiles: ReadonlyMap<string, TypeProfile>;
  readonly map: ModelMap;
  /** How many entries use each term, by `taxonomy:term`. */
  readonly terms: ReadonlyMap<string, number>;
  /** Where authors stumble. */
  readonly stumbles: Stumbles;
}

/** One thing that may be better, with what speaks for it. */
interface Advised {
  /** The address that it is about. */
  readonly at: string;
  /** The evidence with numbers, as a sentence. */
  readonly says: string;
  /** What to do, as a sentence. */
  readonly mend: string;
  /** A command that shows more of it, or does it. */
  readonly command?: string;
}

/** A piece of advice: a suggestion, never a rule. */
export interface Advice {
  readonly name: string;
  /** Why it may matter, in a sentence. */
  readonly why: string;
  readonly find: (reviewed: Reviewed) => Iterable<Advised>;
}

/** So few entries say nothing about how a field is used. */
export const enough = 10;

/** A field of a type with how it is used. */
export interface UsedField {
  readonly type: Type;
  readonly field: Field;
  readonly profile: FieldProfile;
}

/** The fields that types define themselves, those inside objects too, with how they are used. */
export function* ownFields({ model, profiles }: Reviewed): Iterable<UsedField> {
  for (const type of model.types.values()) {
    const profile = profiles.get(type.name);
    const byAddress = new Map(profile?.fields.map((field) => [field.address, field]));
    for (const field of fieldsWithin(type.fields)) {
      const used = byAddress.get(`${type.name}.${field.name}`);
      if (used && !isShared(model, type.name, field.name)) yield { type, field, profile: used };
    }
  }
}

/** Whether a field arrives by a kit or a base type. */
export const isShared = ({ definition }: Model, type: string, field: string): boolean =>
  makersOf(definition, type, field).length > 1;
