import { z } from 'zod';
import { isName, nameRule } from './address.ts';
import { statuses } from './builtIn.ts';
import type { FieldDoc } from './field.ts';
import { flag } from './flag.ts';
import { Preview } from './preview.ts';
import { Sentence, Wording } from './wording.ts';

const Name = z.string().refine(isName, { error: nameRule });

type TypeOptions = z.output<z.ZodObject<typeof typeOptions>>;

/** A type in the normal form: its options, and all fields by name. */
export type TypeDoc = TypeOptions & { readonly fields: Readonly<Record<string, FieldDoc>> };

/** A condition across the fields of one entry. */
export type Rule = NonNullable<TypeOptions['rules']>[number];

/** What can be stated about a type beside its fields. */
export const typeOptions = {
  label: z
    .strictObject({ one: Wording, many: Wording })
    .exactOptional()
    .describe(
      'Its name in the singular and the plural. Default: the identifier as words. Each can be one text, or one per language: { en: …, fr: … }.',
    ),
  about: Wording.exactOptional().describe('Description for people who read the model.'),
  guide: Wording.exactOptional().describe('Guidance for authors who write entries.'),
  byline: z.boolean().exactOptional().describe('Whether the name of the author shows with an entry.'),
  single: flag.describe('Whether there is exactly one entry of it, such as a home page or the settings of a site.'),
  titled: z
    .string()
    .exactOptional()
    .describe('The text field that names an entry in lists; one inside an object by its path, name.short.'),
  groups: z.array(Sentence).min(1).exactOptional().describe('The parts that split a long form, in order.'),
  order: z
    .array(z.string())
    .min(1)
    .exactOptional()
    .describe(
      'The first fields of the form, in this order; the others follow in the order of the file. Part of the model.',
    ),
  builtIn: z
    .strictObject({ status: z.strictObject({ default: z.enum(statuses) }) })
    .exactOptional()
    .describe(
      'Defaults of facts that every entry has, for new entries only: { status: { default: published } }. A new entry is a draft by default.',
    ),
  versions: z
    .boolean()
    .exactOptional()
    .describe('Whether the program that authors use keeps earlier versions of its entries.'),
  previews: z
    .record(z.string(), Preview)
    .exactOptional()
    .describe(
      'Where authors see an entry before it is public, by name: an address with places for its fields, such as https://preview.gannet.example/{language}/lights/{slug}; `id`, `type`, `status` and `language` have places too. Or { address: …, required: true } where authors have to look before they save, { offered: false } where the preview is off. Without an address it is the preview of the program that authors use.',
    ),
  rules: z
    .array(z.strictObject({ expect: Sentence, say: Wording, at: z.string().exactOptional() }))
    .min(1)
    .exactOptional()
    .describe(
      'Conditions across fields: { expect: a CEL condition over `entry`, say: the message, at: the field it is shown at }. Where a field that it names is absent, a rule has nothing to say.',
    ),
};

/** What a type takes from elsewhere. */
export const useOptions = {
  extends: Name.exactOptional().describe(
    'The type that it extends: it takes over the fields, groups and rules of that type, and stands wherever that type is accepted.',
  ),
  kits: z
    .array(Name)
    .min(1)
    .exactOptional()
    .describe('The kits whose fields it has too. A field of the same name here can only narrow what the kit says.'),
};

/** The outermost keys of a type's file. Fields are read one by one, each with the schema of its kind. */
export const TypeFile = z.strictObject({
  $schema: z.string().optional(),
  type: z.string(),
  ...useOptions,
  ...typeOptions,
  fields: z.json().optional(),
});
