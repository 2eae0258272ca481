/** A function that expressions can call. */
export interface CelFunction {
  readonly name: string;
  /** In CEL's words, as it is written in an expression: `text.replace(old, new)`. */
  readonly call: string;
  readonly about: string;
  /** An expression that uses it and needs no entry, and what that gives. */
  readonly example: readonly [expression: string, gives: unknown];
  /** Its signatures and their effects; absent where CEL has it of itself. */
  readonly overloads?: Readonly<Record<string, (...values: never[]) => unknown>>;
}
