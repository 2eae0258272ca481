import type { JsonObject } from '../plain/json.ts';

/** A model as a schema of another language says it. */
export interface SchemaModel {
  /** What each type's file says, by the names of the types. */
  readonly types: ReadonlyMap<string, JsonObject>;
  /** What the schema says and the model does not, and where. */
  readonly unsaid: readonly Unsaid[];
}

/** A part of a schema that the model cannot express. */
export interface Unsaid {
  readonly at: string;
  readonly says: string;
}
