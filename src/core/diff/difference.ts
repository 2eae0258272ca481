import type { FieldDoc } from '../definition/field.ts';
import type { Rename } from '../definition/rename.ts';
import type { Shared } from '../definition/shared.ts';
import type { TaxonomyDoc, TermDoc } from '../definition/taxonomy.ts';
import type { TypeDoc } from '../definition/type.ts';
import type { Json } from '../plain/json.ts';

/** A rename that was recognised, or stated by the architect. */
export interface RenameGuess {
  readonly rename: Rename;
  /** How sure it is, from 0 to 1; 1 where it was stated. */
  readonly sure: number;
  readonly reasons: readonly string[];
  readonly stated: boolean;
}

/** One option with its two values; a side is absent where the option is not there. */
export interface OptionDifference {
  readonly option: string;
  readonly before?: Json;
  readonly after?: Json;
}

/** Where something shared is kept: which of its sides is there tells whether it is new or gone. */
type SharedPart = keyof Shared;
interface Sides {
  readonly before?: Json;
  readonly after?: Json;
}

/**
 * One way in which two models differ once what was renamed has its new name on both sides. A field inside an object is
 * named by its path: `hours.opens`.
 */
export type Difference =
  | ({ readonly name: 'renamed' } & RenameGuess)
  | { readonly name: 'languages-changed'; readonly before: readonly string[]; readonly after: readonly string[] }
  | ({ readonly name: 'language-changed'; readonly language: string } & OptionDifference)
  | ({ readonly name: 'shared-changed'; readonly part: SharedPart; readonly key: string } & Sides)
  | { readonly name: 'type-added' | 'type-removed'; readonly type: string; readonly definition: TypeDoc }
  | ({ readonly name: 'type-changed'; readonly type: string } & OptionDifference)
  | {
      readonly name: 'field-added' | 'field-removed';
      readonly type: string;
      readonly field: string;
      readonly definition: FieldDoc;
    }
  | {
      readonly name: 'field-reshaped';
      readonly type: string;
      readonly field: string;
      readonly was: FieldDoc;
      readonly is: FieldDoc;
    }
  | ({
      readonly name: 'field-changed';
      readonly type: string;
      readonly field: string;
      readonly was: FieldDoc;
    } & OptionDifference)
  | {
      readonly name: 'taxonomy-added' | 'taxonomy-removed';
      readonly taxonomy: string;
      readonly definition: TaxonomyDoc;
    }
  | ({ readonly name: 'taxonomy-changed'; readonly taxonomy: string } & OptionDifference)
  | {
      readonly name: 'term-added' | 'term-removed';
      readonly taxonomy: string;
      readonly path: readonly string[];
      readonly definition: TermDoc;
    }
  | ({ readonly name: 'term-changed'; readonly taxonomy: string; readonly path: readonly string[] } & OptionDifference)
  | { readonly name: 'terms-rearranged'; readonly taxonomy: string };

/** The address of what a rename concerns, as it was before; `to` alone is the new name. */
export function addressOfRename(rename: Rename): string {
  switch (rename.what) {
    case 'type':
      return rename.from;
    case 'field':
      return `${rename.type}.${rename.from}`;
    case 'taxonomy':
      return `${rename.from}:`;
    case 'term':
      return `${rename.taxonomy}:${rename.from}`;
    case 'choice':
      return `${rename.type}.${rename.field}:${rename.from}`;
  }
}

/** The address of what a difference is about, in the names of the newer model. */
export function addressOf(difference: Difference): string {
  switch (difference.name) {
    case 'renamed':
      return addressOfRename(difference.rename);
    case 'languages-changed':
    case 'language-changed':
      return 'languages';
    case 'shared-changed':
      return difference.key;
    case 'type-added':
    case 'type-removed':
    case 'type-changed':
      return difference.type;
    case 'field-added':
    case 'field-removed':
    case 'field-reshaped':
    case 'field-changed':
      return `${difference.type}.${difference.field}`;
    case 'taxonomy-added':
    case 'taxonomy-removed':
    case 'taxonomy-changed':
    case 'terms-rearranged':
      return `${difference.taxonomy}:`;
    case 'term-added':
    case 'term-removed':
    case 'term-changed':
      return `${difference.taxonomy}:${difference.path.join('/')}`;
  }
}
