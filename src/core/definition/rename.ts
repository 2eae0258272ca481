/** A new name for something that options or values may name. `from` of a field inside an object is its path: `hours.opens`. */
export type Rename =
  | { readonly what: 'type'; readonly from: string; readonly to: string }
  | { readonly what: 'field'; readonly type: string; readonly from: string; readonly to: string }
  | { readonly what: 'taxonomy'; readonly from: string; readonly to: string }
  | { readonly what: 'term'; readonly taxonomy: string; readonly from: string; readonly to: string }
  | {
      readonly what: 'choice';
      readonly type: string;
      readonly field: string;
      readonly from: string;
      readonly to: string;
    };

/** The type and the field that options belong to. */
export interface Home {
  readonly type: string;
  readonly field: string;
}
