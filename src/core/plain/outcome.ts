/** A value, or why there is none. */
export type Outcome<T, P> = { readonly value: T } | { readonly problem: P };
