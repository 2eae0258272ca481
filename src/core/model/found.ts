import type { Path } from '../json.ts';
import type { TaxonomyDoc, TypeDoc } from './document.ts';
import type { Mistake } from './mistakes.ts';

/** What a model file defines, and where in the file the parts of its definition stand. */
type Found =
  | { readonly what: 'type'; readonly name: string; readonly form: TypeDoc; readonly inFile: (path: Path) => Path }
  | {
      readonly what: 'taxonomy';
      readonly name: string;
      readonly form: TaxonomyDoc;
      readonly inFile: (path: Path) => Path;
    };

export interface ReadFile {
  readonly found?: Found;
  readonly mistakes: readonly Mistake[];
}

/** Parts of a definition, or why they are none. */
export type Parts<T> = { readonly value: T } | { readonly mistakes: readonly Mistake[] };
