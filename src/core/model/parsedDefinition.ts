import type { KindDoc, KitDoc, Uses } from '../definition/shared.ts';
import type { TaxonomyDoc } from '../definition/taxonomy.ts';
import type { TypeDoc } from '../definition/type.ts';
import type { Json, Path } from '../plain/json.ts';
import type { Outcome } from '../plain/outcome.ts';
import type { Mistake } from './mistakes.ts';
import type { RawField } from './readHead.ts';

/** What a model file defines. Fields are still in the form of the file: their parts may be in another. */
export type ParsedDefinition =
  | {
      readonly what: 'type';
      readonly name: string;
      readonly options: Omit<TypeDoc, 'fields'>;
      readonly uses: Uses;
      readonly fields: readonly RawField[];
    }
  | {
      readonly what: 'kit';
      readonly name: string;
      readonly options: Omit<KitDoc, 'fields'>;
      readonly fields: readonly RawField[];
    }
  | { readonly what: 'field'; readonly name: string; readonly data: Json }
  | { readonly what: 'kind'; readonly name: string; readonly definition: KindDoc }
  | {
      readonly what: 'taxonomy';
      readonly name: string;
      readonly definition: TaxonomyDoc;
      /** The path in the file of a path in the taxonomy. */
      readonly inFile: (path: Path) => Path;
    };

/** A parsed model file: its definition, and its mistakes. */
export interface ParsedFile {
  readonly found?: ParsedDefinition;
  readonly mistakes: readonly Mistake[];
}

/** Parts of a definition, or why they are none. */
export type Parts<T> = Outcome<T, readonly Mistake[]>;
