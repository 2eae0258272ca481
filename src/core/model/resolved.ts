import type { Shared } from '../definition/shared.ts';
import type { TypeDoc } from '../definition/type.ts';
import type { Path } from '../plain/json.ts';
import type { FilePlace } from './inheritedParts.ts';
import type { Mistake } from './mistakes.ts';
import type { ParsedDefinition } from './parsedDefinition.ts';

/** A mistake with its file. */
export interface MistakeInFile extends Mistake {
  readonly file: string;
}

type FoundOf<W extends ParsedDefinition['what']> = Extract<ParsedDefinition, { what: W }>;

/** A definition with its file. */
export type InFile<W extends ParsedDefinition['what']> = FoundOf<W> & { readonly file: string };

/** A model with shared parts written out, and its mistakes. */
export interface Resolved {
  readonly types: Readonly<Record<string, TypeDoc>>;
  readonly shared: Shared | undefined;
  readonly mistakes: readonly MistakeInFile[];
  /** Where a path of a type or a kit is written. */
  readonly placeOf: (name: string, path: Path) => FilePlace | undefined;
  /** All places that say something about it: a field that is defined in a kit may be narrowed in a type. */
  readonly placesOf: (name: string, path: Path) => readonly FilePlace[];
}
