import { identifierPattern, slugLimit, slugPattern } from '../definition/address.ts';
import { isList, isObject, type Json, type JsonObject } from '../plain/json.ts';

/**
 * What a single value of a field is stored as. Said once by its kind; what says it to other programs (JSON Schema, and
 * others to come) follows from this.
 */
export type Shape =
  | TextShape
  | {
      readonly is: 'number' | 'integer';
      /** The most decimal places. */
      readonly places?: number | undefined;
      readonly min?: number | undefined;
      readonly max?: number | undefined;
      readonly values?: readonly number[] | undefined;
    }
  | { readonly is: 'boolean' }
  /** One of some texts; where there is none, nothing can stand. */
  | { readonly is: 'one of'; readonly values: readonly string[] }
  | KeysShape
  | { readonly is: 'list' }
  | { readonly is: 'either'; readonly shapes: readonly Shape[] }
  | { readonly is: 'anything' }
  /** Whatever a JSON Schema of the architect's own says. */
  | { readonly is: 'by schema'; readonly schema: JsonObject };

/** The shape of values that are texts. */
export interface TextShape {
  readonly is: 'text';
  /** The standard that it is written by: RFC 3339, sections 5.6. */
  readonly format?: 'date' | 'date-time' | undefined;
  /** The meaning, if no shared standard has a name for it. */
  readonly says?: 'time of day' | 'length of time' | 'local date-time' | undefined;
  /** The first and the last that may stand, of a text that says when. */
  readonly earliest?: string | undefined;
  readonly latest?: string | undefined;
  /** In characters as people count them. */
  readonly min?: number | undefined;
  readonly max?: number | undefined;
  /** Regular expressions (ECMA-262, with flag `u`) that all have to match. */
  readonly patterns?: readonly string[];
}

interface KeysShape {
  readonly is: 'keys';
  readonly keys: Readonly<Record<string, Shape>>;
  /** The keys that may be absent. */
  readonly optional?: readonly string[];
  /** Whether other keys may be there too. */
  readonly isOpen?: boolean;
}

/** An identifier of an entry or a term. */
export const identifierShape: TextShape = { is: 'text', patterns: [identifierPattern] };

/** The last part of a web address. */
export const slugShape: TextShape = { is: 'text', patterns: [slugPattern], max: slugLimit };

/** Whether an empty text, list or group has the form of a shape. */
export function takesEmpty(shape: Shape, empty: Json): boolean {
  switch (shape.is) {
    case 'text':
    case 'one of':
      return empty === '';
    case 'list':
      return isList(empty);
    case 'keys':
      return isObject(empty);
    case 'either':
      return shape.shapes.some((shape) => takesEmpty(shape, empty));
    case 'anything':
    case 'by schema':
      return true;
    default:
      return false;
  }
}
