import { z } from 'zod';
import { previewShape } from '../../core/definition/preview.ts';
import { JsonValue } from '../../core/plain/jsonValue.ts';
import { ContentState, head, RevisionGist, resultVersion } from '../result.ts';
import { treeShape } from '../terms/result.ts';

const Link = z.strictObject({ type: z.string(), count: z.int() });

/** The whole workspace, as `show` gives it. */
export const Overview = z.strictObject({
  ...head('show'),
  what: z.literal('workspace'),
  workspace: z.string(),
  languages: z.array(z.string()),
  revision: RevisionGist.optional(),
  /** What the working files say that the newest revision does not. */
  changed: z.array(z.strictObject({ address: z.string(), says: z.string() })),
  standing: ContentState,
  types: z.array(
    z.strictObject({
      name: z.string(),
      label: z.string(),
      about: z.string().optional(),
      entries: z.int(),
      fields: z.int(),
      pointsAt: z.array(Link),
      pointedAtBy: z.array(Link),
    }),
  ),
  taxonomies: z.array(
    z.strictObject({
      name: z.string(),
      label: z.string(),
      about: z.string().optional(),
      terms: z.int(),
      uses: z.int(),
    }),
  ),
  kits: z.array(
    z.strictObject({
      name: z.string(),
      about: z.string().optional(),
      fields: z.int(),
      /** The types that it reaches. */
      usedBy: z.array(z.string()),
    }),
  ),
  errors: z.int(),
  warnings: z.int(),
});

export type Overview = z.output<typeof Overview>;

/** Where a field comes from, outermost first. */
const Provenance = z.strictObject({ what: z.enum(['type', 'kit', 'field', 'kind']), name: z.string() });

/** A field, as `show` gives it. */
export const FieldShown = z.strictObject({
  name: z.string(),
  label: z.string(),
  kind: z.string(),
  many: z.boolean(),
  required: z.enum(['always', 'published']).optional(),
  /** How its value follows from others, if nobody writes it. */
  computed: z.union([z.strictObject({ cel: z.string() }), z.strictObject({ count: z.string() })]).optional(),
  unique: z.boolean(),
  group: z.string().optional(),
  help: z.string().optional(),
  default: JsonValue.optional(),
  /** What the options say, in short. */
  gist: z.string(),
  options: z.record(z.string(), JsonValue),
  /** The base type or kit that it arrives by, and the shared definition or kind it is made of. */
  from: z.array(Provenance),
  example: JsonValue.optional(),
});

/** A type, as `show` gives it. */
export const TypeShown = z.strictObject({
  ...head('show'),
  what: z.literal('type'),
  name: z.string(),
  label: z.strictObject({ one: z.string(), many: z.string() }),
  about: z.string().optional(),
  guide: z.string().optional(),
  titled: z.string().optional(),
  single: z.boolean(),
  /** The type that it extends. */
  extends: z.string().optional(),
  extendedBy: z.array(z.string()),
  kits: z.array(z.string()),
  /** Whether the name of the author shows with an entry. */
  byline: z.boolean().optional(),
  /** Defaults of facts that every entry has. */
  builtIn: z.record(z.string(), JsonValue).optional(),
  /** Whether earlier versions of its entries are kept. */
  versions: z.boolean().optional(),
  previews: z.array(z.strictObject({ name: z.string(), ...previewShape.shape })),
  groups: z.array(z.string()),
  entries: z.int(),
  fields: z.array(FieldShown),
  /** Conditions across its fields, with their messages and the fields they are shown at. */
  rules: z.array(z.strictObject({ expect: z.string(), say: z.string(), at: z.string().optional() })),
  /** Fields of other types that may point here, with the name they give to this side. */
  inverses: z.array(z.strictObject({ field: z.string(), name: z.string().optional() })),
});

export type TypeShown = z.output<typeof TypeShown>;

const FieldOnly = z.strictObject({
  ...head('show'),
  what: z.literal('field'),
  type: z.string(),
  field: FieldShown,
  /** The fields that its values are made of: those of an object, `keys` and `value` of a map. */
  inside: z.array(FieldShown),
  /** What may be chosen, in words, where the field lists it. */
  choices: z.array(z.strictObject({ choice: z.string(), label: z.string() })),
  entries: z.int(),
  filled: z.int(),
});

/** Something kept once and used in many types. */
export const SharedShown = z.strictObject({
  ...head('show'),
  what: z.literal('shared'),
  part: z.enum(['kit', 'field', 'kind']),
  name: z.string(),
  label: z.string(),
  about: z.string().optional(),
  /** The kind that a kind is built on. */
  on: z.string().optional(),
  fields: z.array(FieldShown),
  /** The options that a kind fixes. */
  options: z.record(z.string(), JsonValue),
  /** The fields that are made of it, by address. */
  reaches: z.array(z.string()),
});

export type SharedShown = z.output<typeof SharedShown>;

/** A taxonomy with its terms, as `show` gives it. */
export const TaxonomyShown = z.strictObject({ ...head('show'), what: z.literal('taxonomy'), ...treeShape });
export type TaxonomyShown = z.output<typeof TaxonomyShown>;

/** An entry, as `show` gives it. */
export const EntryShown = z.strictObject({
  ...head('show'),
  what: z.literal('entry'),
  address: z.string(),
  title: z.string().optional(),
  file: z.string(),
  status: z.enum(['draft', 'published', 'archived']),
  /** When it is public, where it says so. */
  public: z.strictObject({ from: z.string().optional(), until: z.string().optional() }).optional(),
  /** The language that it is read in, and where something had to be read in another one. */
  language: z.string(),
  previews: z.array(z.strictObject({ name: z.string(), address: z.string() })),
  values: z.array(
    z.strictObject({
      field: z.string(),
      /** What authors call it in that language, where the model says. */
      label: z.string().optional(),
      kind: z.string().optional(),
      value: JsonValue,
      says: z.string().optional(),
      language: z.string().optional(),
    }),
  ),
  empty: z.array(z.string()),
  pointedAtBy: z.array(z.strictObject({ entry: z.string(), pointer: z.string() })),
});

/** The result of `lumbrik show`. */
export const ShowResult = z.discriminatedUnion('what', [
  Overview,
  TypeShown,
  FieldOnly,
  SharedShown,
  TaxonomyShown,
  EntryShown,
]);
export type EntryShown = z.output<typeof EntryShown>;
export type ShowResult = z.output<typeof ShowResult>;

export const command = { lumbrik: resultVersion, command: 'show' } as const;
