import type { CommonOptions, FieldDoc } from '../definition/field.ts';
import { commonOptions } from '../definition/field.ts';
import type { ModelDoc } from '../definition/model.ts';
import type { TypeDoc } from '../definition/type.ts';
import { type Wording, wordsIn } from '../definition/wording.ts';
import type { Kind } from '../kinds/define.ts';
import { kinds } from '../kinds/index.ts';
import type { ModelContext } from '../kinds/kindParts.ts';
import { compact, isObject, type Json, type JsonObject, ownValue } from '../plain/json.ts';
import { LazyMap } from '../plain/lazyMap.ts';
import { humanize, pluralize } from '../plain/words.ts';
import { type ContentTerms, linkTaxonomyOf, type Taxonomy, withBorrowed } from '../taxonomy/linkTaxonomy.ts';
import { definingType, definitionsOnTheWay, typesAcceptedAs } from './provenance.ts';

/** A model to look things up in. Everything in it follows from its document. */
export interface Model {
  readonly definition: ModelDoc;
  readonly types: ReadonlyMap<string, Type>;
  readonly taxonomies: ReadonlyMap<string, Taxonomy>;
  /** The terms of open taxonomies that are kept with the content, by taxonomy. */
  readonly contentTerms: ReadonlyMap<string, ContentTerms>;
  readonly context: ModelContext;
  /** The languages in which it is read: texts for people come in the first of them that has one. */
  readonly readingOrder: readonly string[];
}

/** A type with its fields linked for lookups. */
export interface Type {
  readonly name: string;
  readonly definition: TypeDoc;
  readonly label: { readonly one: string; readonly many: string };
  readonly fields: ReadonlyMap<string, Field>;
  /** The taxonomies of the model, which expressions over its entries may ask. */
  readonly taxonomies: ReadonlyMap<string, Taxonomy>;
  /** All types of the model, in whose entries expressions over its own may look things up. */
  readonly types: ReadonlyMap<string, Type>;
  /** A field of it as the kit or the type defines it from which it arrives, where that is elsewhere: there it may allow more. */
  readonly arriving: (field: string) => readonly Field[];
  /** The field that is the text of a Markdown file. */
  readonly body: Field | undefined;
}

/** A field with its kind, options and inner fields. */
export interface Field {
  readonly type: string;
  readonly name: string;
  /** `lighthouse.focalHeight`; of an inherited field the one of the type which defines it. */
  readonly address: string;
  readonly definition: FieldDoc;
  readonly kind: Kind;
  /** The options that the kind itself understands. */
  readonly options: JsonObject;
  readonly common: CommonOptions;
  readonly label: string;
  /** The fields inside it, if its kind has such: those of an object by name, of a map `keys` and `value`. */
  readonly fields: ReadonlyMap<string, Field>;
}

/**
 * Makes a model document into a model. Names that lead nowhere stay as they are: {@link verify} reports them.
 * @param contentTerms the terms of open taxonomies that are kept with the content, by taxonomy.
 * @param readingOrder the languages in which it is read; those of the workspace if nothing is stated.
 */
export function link(
  definition: ModelDoc,
  contentTerms: ReadonlyMap<string, ContentTerms> = new Map(),
  readingOrder: readonly string[] = definition.languages,
): Model {
  const taxonomies = withBorrowed(
    new Map(
      Object.entries(definition.taxonomies).map(([name, taxonomy]) => [
        name,
        linkTaxonomyOf(name, taxonomy, readingOrder, contentTerms.get(name)),
      ]),
    ),
  );
  // Most commands meet few of the types of a large model.
  const types: ReadonlyMap<string, Type> = new LazyMap(Object.keys(definition.types), (name) => ({
    ...linkType(name, definition.types[name] as TypeDoc, { model: definition, readingOrder }),
    taxonomies,
    types,
  }));

  return {
    definition,
    types,
    taxonomies,
    contentTerms,
    context: contextOf(definition, types, taxonomies),
    readingOrder,
  };
}

function linkType(
  name: string,
  definition: TypeDoc,
  { model, readingOrder }: { readonly model: ModelDoc; readonly readingOrder: readonly string[] },
): Omit<Type, 'taxonomies' | 'types'> {
  const order = definition.order ?? [];
  const names = [
    ...order.filter((field) => Object.hasOwn(definition.fields, field)),
    ...Object.keys(definition.fields).filter((field) => !order.includes(field)),
  ];
  const fields = new Map(
    names.flatMap((field) => {
      const options = definition.fields[field];
      const home = { type: name, definedIn: definingType(model, name, field) };
      const linked = options && linkField(home, field, options, readingOrder);
      if (!linked) return [];
      return [[field, linked] as const];
    }),
  );
  const label = humanize(name);

  return {
    name,
    definition,
    arriving: (field) =>
      definitionsOnTheWay(model, name, field).flatMap(
        (definition) => linkField({ type: name }, field, definition, readingOrder) ?? [],
      ),
    label: {
      one: wordsIn(definition.label?.one, readingOrder) ?? label,
      many: wordsIn(definition.label?.many, readingOrder) ?? pluralize(label),
    },
    fields,
    body: [...fields.values()].find((field) => field.kind.isBody(field.options)),
  };
}

/** The type that a field is in, and the one that defines it where that is another. */
interface FieldHome {
  readonly type: string;
  readonly definedIn?: string;
}

/** A field on its own, outside a model; `undefined` where its kind does not exist. */
export function linkField(
  home: FieldHome,
  name: string,
  definition: FieldDoc,
  languages: readonly string[] = [],
): Field | undefined {
  const kind = kinds.get(definition.kind);
  if (!kind) return undefined;

  const common: Record<string, unknown> = {};
  const options: Record<string, JsonObject[string]> = {};

  for (const [key, value] of Object.entries(definition)) {
    if (key === 'kind') continue;
    if (Object.hasOwn(commonOptions, key)) common[key] = value;
    else options[key] = value;
  }

  const label = ownValue(definition, 'label') as Wording | undefined;
  const { type, definedIn = type } = home;

  return {
    type,
    name,
    address: `${definedIn}.${name}`,
    definition,
    kind,
    options,
    common,
    label: wordsIn(label, languages) ?? humanize(name.split('.').at(-1) ?? name),
    fields: linkInner(home, name, partsOf(kind, options), languages),
  };
}

/** The fields that a value is made of: those of an object by name, of a map `keys` and `value`. */
export const partsOf = ({ nests, maps }: Kind, { fields, keys, value }: JsonObject): Json | undefined => {
  if (nests) return fields;
  if (!maps) return undefined;
  return compact({ keys, value });
};

function linkInner(
  home: FieldHome,
  outer: string,
  fields: Json | undefined,
  languages: readonly string[],
): ReadonlyMap<string, Field> {
  const linked = Object.entries(isObject(fields) ? fields : {}).map(
    ([name, definition]) => [name, linkField(home, `${outer}.${name}`, definition as FieldDoc, languages)] as const,
  );
  return new Map(linked.flatMap(([name, field]) => (field ? [[name, field] as const] : [])));
}

/** Every field, those inside objects included. */
const fieldsIn = (fields: ReadonlyMap<string, Field>): readonly Field[] =>
  [...fields.values()].flatMap((field) => [field, ...fieldsIn(field.fields)]);

function contextOf(
  { languages, languageOptions = {}, shared }: ModelDoc,
  types: ReadonlyMap<string, Type>,
  taxonomies: ReadonlyMap<string, Taxonomy>,
): ModelContext {
  const names = [...types.keys()];
  const fieldKinds = new LazyMap(
    names,
    (name) => new Map(fieldsIn(types.get(name)?.fields ?? new Map()).map((field) => [field.name, field.kind.name])),
  );
  const accepted = new LazyMap(names, (name) => typesAcceptedAs(shared, name));

  return {
    languages,
    types: names,
    taxonomies: [...taxonomies.keys()],
    taxonomyOf: (taxonomy) => taxonomies.get(taxonomy),
    kindsOf: (type) => fieldKinds.get(type),
    languageOptions,
    acceptedAs: (type) => accepted.get(type) ?? [type],
  };
}
