import type { Json, Path } from '../plain/json.ts';

/** What a store has to do to an entry, in this order. The rest of the entry stays. */
export type Operation =
  | { readonly do: 'rename'; readonly inside: Path; readonly key: string; readonly to: string }
  | { readonly do: 'set'; readonly path: Path; readonly value: Json; readonly after: readonly string[] }
  | { readonly do: 'remove'; readonly inside: Path; readonly key: string }
  /** Puts what some keys lead to into another place inside the same group; groups that are left empty go, others come. */
  | {
      readonly do: 'carry';
      readonly inside: Path;
      readonly from: readonly string[];
      readonly to: readonly string[];
      readonly after: readonly string[];
    }
  | { readonly do: 'prose'; readonly value: string | undefined }
  | { readonly do: 'move'; readonly type: string }
  | { readonly do: 'delete' };

/** A value that a step cannot carry on. It is listed before anything is written, and kept in the journal after. */
export interface Loss {
  readonly path: Path;
  readonly value: Json;
  readonly why: string;
  /** What the migration puts instead of it; absent where the value is simply gone. */
  readonly becomes?: Json;
}
