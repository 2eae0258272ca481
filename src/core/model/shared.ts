import { z } from 'zod';
import { type JsonObject, own } from '../json.ts';
import { type FieldDoc, type ModelDoc, typeOptions } from './document.ts';
import { Wording } from './wording.ts';

/**
 * What a model keeps once and uses in many types, and which types use it. The types themselves are whole without it:
 * this says where their parts come from, never what they are.
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

/** Where the fields of a type or a kit were taken from, by the name of the field. */
export type Origins = Readonly<Record<string, Origin>>;
export type Origin = { readonly use: string } | { readonly kind: string };

export interface Uses {
  readonly extends?: string;
  readonly kits?: readonly string[];
  readonly origins?: Origins;
}

/** What can be said about a kit beside its fields. */
export const kitOptions = {
  label: Wording.exactOptional().describe('Its display name.'),
  about: Wording.exactOptional().describe('Which facts it keeps together, and for whom.'),
  groups: typeOptions.groups.describe(
    'The parts of a form that its fields stand in; a type that uses it has them too.',
  ),
  rules: typeOptions.rules.describe('Conditions across its fields, as in a type. They hold in each type that uses it.'),
};

/** The outermost keys of a kit's file. */
export const KitFile = z.strictObject({
  $schema: z.string().optional(),
  kit: z.string(),
  ...kitOptions,
  fields: z.json().optional(),
});

/** What can be said about a kind of one's own. */
export const kindOptions = {
  on: z.string().describe('The kind that it is built on.'),
  about: Wording.exactOptional().describe('What it is for.'),
  options: z
    .record(z.string(), z.json())
    .exactOptional()
    .describe('The options that it fixes; a field of this kind can say the others, and none of these.'),
};

/** The file of a kind of one's own. */
export const KindFile = z.strictObject({ $schema: z.string().optional(), kind: z.string(), ...kindOptions });

const Origin = z.union([z.strictObject({ use: z.string() }), z.strictObject({ kind: z.string() })]);
const Origins = z.record(z.string(), Origin);
const Field = z.looseObject({ kind: z.string() });

/** The normal form of what is shared. */
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

/** The names of everything that a model defines at its top, which it may use once each. */
export const namesIn = ({ types, taxonomies, shared: { kits = {}, fields = {}, kinds = {} } = {} }: ModelDoc) =>
  [types, taxonomies, kits, fields, kinds].flatMap((one) => Object.keys(one));

/** Where a field of a type comes from: outermost first, as a person would follow it. */
export interface Provenance {
  readonly what: 'type' | 'kit' | 'field' | 'kind';
  readonly name: string;
}

/**
 * Where a field of a type comes from: the base type or the kit it arrived by, the definition or the kind it is made of.
 * @param field its name; inside objects with dots, `hours.opens`.
 */
export function provenanceOf(model: ModelDoc, type: string, field: string): readonly Provenance[] {
  const { types = {}, kits = {} } = model.shared ?? {};
  const uses = own(types, type);
  const [outer = ''] = field.split('.');
  const kit = uses?.kits?.find((name) => Object.hasOwn(own(kits, name)?.fields ?? {}, outer));
  if (kit !== undefined) return [{ what: 'kit', name: kit }, ...originStep(own(kits, kit)?.origins, field)];
  const base = uses?.extends;
  if (base !== undefined && Object.hasOwn(own(model.types, base)?.fields ?? {}, outer))
    return [{ what: 'type', name: base }, ...provenanceOf(model, base, field)];
  return originStep(uses?.origins, field);
}

function originStep(origins: Origins | undefined, field: string): readonly Provenance[] {
  const origin = own(origins ?? {}, field);
  if (!origin) return [];
  return 'use' in origin ? [{ what: 'field', name: origin.use }] : [{ what: 'kind', name: origin.kind }];
}

/** The type and those that extend it, at any distance: whatever stands where the type is accepted. */
export function standingFor(shared: Shared | undefined, type: string): readonly string[] {
  const direct = Object.entries(shared?.types ?? {}).flatMap(([name, uses]) => (uses.extends === type ? [name] : []));
  return [type, ...direct.flatMap((name) => standingFor(shared, name))];
}

export const isMadeOf = (provenance: readonly Provenance[], part: Provenance): boolean =>
  provenance.some(({ what, name }) => what === part.what && name === part.name);

/** The types that a kit, a base type or a shared definition reaches. */
export function reachOf(model: ModelDoc, part: Provenance): readonly string[] {
  const { shared, types } = model;
  return Object.keys(types).filter(
    (type) =>
      (part.what === 'kit' && own(shared?.types ?? {}, type)?.kits?.includes(part.name)) ||
      (part.what === 'type' && part.name !== type && standingFor(shared, part.name).includes(type)) ||
      Object.keys(types[type]?.fields ?? {}).some((field) => isMadeOf(provenanceOf(model, type, field), part)),
  );
}
