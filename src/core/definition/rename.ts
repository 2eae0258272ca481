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
