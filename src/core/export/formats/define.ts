import type { BuiltInNames } from '../../definition/builtIn.ts';
import type { Model, Type } from '../../model/link.ts';

/** What of a model is exported. */
export interface Exported {
  readonly workspace: string;
  readonly model: Model;
  /** The types that are requested; all of them where none is. */
  readonly types: readonly Type[];
  /** What the workspace, and each store that calls it otherwise, calls what every entry has. */
  readonly factKeys: readonly BuiltInNames[];
  /** The call that writes the same again. */
  readonly call: string;
  /** How entries are read; as they are where nothing is stated. */
  readonly reading?: Reading | undefined;
  /** Whether cells that a spreadsheet would compute have an apostrophe before them. */
  readonly guard?: boolean | undefined;
}

/** How readers of the content see it. */
export interface Reading {
  /** The languages that are tried, in order; all of them where nothing is stated. */
  readonly order?: readonly string[] | undefined;
  /** The moment (RFC 3339) at which only public entries are visible. */
  readonly publicAt?: string | undefined;
  /** So many references deep, entries that are pointed at are where the reference does. */
  readonly depth: number;
}

/** A form in which a model is shown to other programs, or to people who work with them. */
export interface ExportFormat {
  readonly name: string;
  readonly about: string;
  /** The file that it is usually kept in. */
  readonly file: string;
  /** The same text for the same model, so that a change of the model is a small difference of it. */
  readonly text: (exported: Exported) => string;
}
