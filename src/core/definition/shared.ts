import { z } from 'zod';
import type { JsonObject } from '../plain/json.ts';
import type { FieldDoc } from './field.ts';
import { typeOptions } from './type.ts';
import { Wording } from './wording.ts';

/** What a field is made of: a shared field, a kind of one's own, or inside an object the kit that it arrives by. */
export type Origin = { readonly use: string } | { readonly kind: string } | { readonly kit: string };

const Origin = z.union([
  z.strictObject({ use: z.string() }),
  z.strictObject({ kind: z.string() }),
  z.strictObject({ kit: z.string() }),
]);

/** Where the fields of a type or a kit were taken from, by the name of the field. */
export type Origins = Readonly<Record<string, Origin>>;

/** The origins of fields, by the path of the field. */
export const Origins = z.record(z.string(), Origin);

/**
 * What a model keeps once and uses in many types, and which types use it. The types themselves are whole without it:
 * this says where their parts come from, never their content.
 */
export interface Shared {
  /** Kinds of the organisation's own. */
  readonly kinds?: Readonly<Record<string, KindDoc>>;
  /** Definitions of a field. */
  readonly fields?: Readonly<Record<string, FieldDoc>>;
  readonly kits?: Readonly<Record<string, KitDoc>>;
  /** What each type takes from elsewhere. */
  readonly types?: Readonly<Record<string, Uses>>;
}

/** A kind of field built on another one, with some of its options fixed. */
export interface KindDoc {
  readonly about?: Wording;
  readonly on: string;
  readonly options: JsonObject;
}

/** Fields that are kept once and used in many types. */
export type KitDoc = z.output<z.ZodObject<typeof kitOptions>> & {
  readonly fields: Readonly<Record<string, FieldDoc>>;
  readonly origins?: Origins;
};

/** The shared parts that a type uses. */
export interface Uses {
  readonly extends?: string;
  readonly kits?: readonly string[];
  readonly origins?: Origins;
}

/** What can be stated about a kit beside its fields. */
export const kitOptions = {
  label: Wording.exactOptional().describe('Its display name.'),
  about: Wording.exactOptional().describe('Which facts it keeps together, and for whom.'),
  kits: z
    .array(z.string())
    .exactOptional()
    .describe('Other kits whose fields it has too. A field of the same name here can only narrow what that kit says.'),
  groups: typeOptions.groups.describe('The groups of the form for its fields; a type that uses the kit has them too.'),
  rules: typeOptions.rules.describe('Conditions across its fields, as in a type. They hold in each type that uses it.'),
};

/** What can be stated about a kind of one's own. */
export const kindOptions = {
  on: z.string().describe('The kind that it is built on.'),
  about: Wording.exactOptional().describe('What it is for.'),
  options: z
    .record(z.string(), z.json())
    .exactOptional()
    .describe('The options that it fixes; a field of this kind can say the others, and none of these.'),
};

/** The outermost keys of a kit's file. */
export const KitFile = z.strictObject({
  $schema: z.string().optional(),
  kit: z.string(),
  ...kitOptions,
  fields: z.json().optional(),
});

/** The file of a kind of one's own. */
export const KindFile = z.strictObject({ $schema: z.string().optional(), kind: z.string(), ...kindOptions });

const Field = z.looseObject({ kind: z.string() });

/** The normal form of shared parts. */
export const SharedForm = z.strictObject({
  kinds: z
    .record(
      z.string(),
      z.strictObject({ about: kindOptions.about, on: z.string(), options: z.record(z.string(), z.json()) }),
    )
    .exactOptional(),
  fields: z.record(z.string(), Field).exactOptional(),
  kits: z
    .record(
      z.string(),
      z.strictObject({ ...kitOptions, fields: z.record(z.string(), Field), origins: Origins.exactOptional() }),
    )
    .exactOptional(),
  types: z
    .record(
      z.string(),
      z.strictObject({
        extends: z.string().exactOptional(),
        kits: z.array(z.string()).exactOptional(),
        origins: Origins.exactOptional(),
      }),
    )
    .exactOptional(),
});
