import type { Json, Path } from '../plain/json.ts';

/** One change of a YAML or JSON text. Keys are renamed and removed in the mapping at a path: the outermost if none is stated. */
export type Edit =
  | { readonly do: 'rename'; readonly inside?: Path; readonly key: string; readonly to: string }
  | { readonly do: 'remove'; readonly inside?: Path; readonly key: string }
  | {
      readonly do: 'set';
      readonly path: Path;
      readonly value: Json;
      /** Keys after which a new key is placed: the first of them that is there. At the end where none is. */
      readonly after?: readonly string[];
    }
  /**
   * Puts what some keys of a mapping lead to into another place in it: mappings that are left empty go, and those on the
   * way come. `after` says where a new key of that mapping is placed.
   */
  | {
      readonly do: 'carry';
      readonly inside?: Path;
      readonly from: readonly string[];
      readonly to: readonly string[];
      readonly after?: readonly string[];
    }
  /** A new key of a mapping inside; the mapping is made where it is not there. */
  | { readonly do: 'insert'; readonly path: Path; readonly key: string; readonly value: Json }
  /** New items at the end of a list; the list is made where it is not there. */
  | { readonly do: 'append'; readonly path: Path; readonly items: readonly Json[] };

/** The edited text would not have the intended meaning. Nothing was written. */
export class CannotEdit extends Error {
  override readonly name = 'CannotEdit';
}
