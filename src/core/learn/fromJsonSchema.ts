import { isId, nameFrom } from '../definition/address.ts';
import { fitKeys } from '../definition/fieldName.ts';
import { readField } from '../model/readField.ts';
import { compilePattern } from '../patterns/pattern.ts';
import {
  compact,
  equal,
  isList,
  isObject,
  type Json,
  type JsonObject,
  ownValue,
  parsePointer,
  put,
} from '../plain/json.ts';
import { groupThousands } from '../plain/words.ts';
import { besideKey, bundled } from './bundledSchema.ts';
import { DefinitionNames } from './definitionNames.ts';
import type { SchemaModel, Unsaid } from './schemaModel.ts';
import {
  about,
  alternatives,
  decoded,
  labelled,
  labelOf,
  list,
  mapValue,
  merged,
  object,
  orOne,
  plainDefault,
  refsIn,
  requiredInAll,
} from './schemaParts.ts';

/**
 * The model that a JSON Schema (draft 4 to 2020-12) or an OpenAPI document (2 to 3.1) says: a type for the object that it
 * describes, or of a document the schemas that no other schema contains. Nothing is fetched from the network.
 * @param name what the type is called that the schema itself does not name.
 * @param load reads a file beside it that it refers to.
 */
export function fromJsonSchema(
  document: Json,
  name: string,
  load: (file: string) => Json | undefined = () => undefined,
): SchemaModel {
  return new SchemaReader(bundled(document, load), name).read();
}

/** How many forms were put together in one. */
const formsKey = 'x-forms';

/** Keywords that say nothing of stored values, or that are understood here. */
const understood = new Set(
  `$schema $id id $anchor $comment $defs definitions $ref title description default examples example type enum const format
  required properties additionalProperties patternProperties unevaluatedProperties items minItems maxItems uniqueItems
  minLength maxLength pattern minimum maximum exclusiveMinimum exclusiveMaximum multipleOf allOf anyOf oneOf nullable
  propertyNames minProperties maxProperties contentMediaType readOnly writeOnly deprecated xml externalDocs discriminator
  additionalItems`.split(/\s+/u),
);

const formats: Readonly<Record<string, JsonObject>> = {
  date: { kind: 'date' },
  'date-time': { kind: 'dateTime' },
  duration: { kind: 'duration' },
  email: { kind: 'email' },
  uri: { kind: 'webAddress' },
  url: { kind: 'webAddress' },
  iri: { kind: 'webAddress' },
};

/** The pattern of texts on one line, as our own schemas say it. */
const oneLine = String.raw`^[^\n\r\u2028\u2029]*$`;

/** A text with more characters than this is a long one. */
const longText = 300;
const deepest = 12;
/** Parts that are referred to be in each place: few of them make very many fields. */
const mostFields = 20_000;
/** So many references of a schema are followed. */
const mostVisits = 100_000;

class SchemaReader {
  readonly #document: Json;
  readonly #name: string;
  readonly #unsaid = new Map<string, Unsaid>();
  readonly #anchors = new Map<string, JsonObject>();
  /** Schemas with all that they refer to, where they lead to no schema that they are in. */
  readonly #wholes = new Map<JsonObject, JsonObject>();
  /** How often a schema led back to one that it is in. */
  #circles = 0;
  #fieldCount = 0;
  #visits = 0;

  constructor(document: Json, name: string) {
    this.#document = document;
    this.#name = name;
    this.#findAnchors(document, 0);
  }

  read(): SchemaModel {
    const types = new Map<string, JsonObject>();
    const names = new DefinitionNames();
    for (const [name, schema] of this.#roots()) {
      const combined = this.#together(this.#whole(schema, []));
      if (formsKey in combined) this.#say(name, 'is one of several forms; its fields are those of all of them');
      const fields = this.#fields(combined, name, []);
      if (fields === undefined) continue;

      const fitting = nameFrom(name);
      if (!names.take(fitting)) this.#say(name, 'no type can be called so, or another one is');
      else types.set(fitting, { ...(fitting === name ? {} : labelOf(name, fitting)), ...about(combined), fields });
    }

    return { types, unsaid: [...this.#unsaid.values()] };
  }

  #say(address: string, message: string): void {
    const key = `${address} ${message}`;
    if (!this.#unsaid.has(key)) this.#unsaid.set(key, { at: address, says: message });
  }

  #findAnchors(schema: Json, depth: number): void {
    if (depth > 60 || typeof schema !== 'object' || schema === null) return;

    if (isObject(schema)) {
      for (const key of ['$anchor', '$dynamicAnchor'])
        if (typeof schema[key] === 'string') this.#anchors.set(`#${schema[key]}`, schema);
      for (const key of ['$id', 'id']) if (typeof schema[key] === 'string') this.#anchors.set(schema[key], schema);
    }

    for (const value of Object.values(schema)) this.#findAnchors(value as Json, depth + 1);
  }

  /* ── which schemas are types ───────────────────────────────────────────────────────────────────────────────── */

  #roots(): readonly (readonly [string, JsonObject])[] {
    const document = this.#document;
    if (!isObject(document)) return [];

    const components = isObject(document.components) ? document.components.schemas : undefined;
    const isService = document.openapi !== undefined || document.swagger !== undefined;
    const shared = isService ? (components ?? document.definitions) : (document.$defs ?? document.definitions);
    const named = Object.entries(isObject(shared) ? shared : {}).filter(
      (entry): entry is [string, JsonObject] => isObject(entry[1]) && this.#holder(entry[1]) !== undefined,
    );

    if (!isService) {
      const inside = this.#envelope(this.#whole(document, []));
      if (inside.length > 0) return inside;

      const several = list(document.anyOf ?? document.oneOf).flatMap((alternative) => {
        const [ref = ''] = isObject(alternative) ? [alternative.$ref].filter((ref) => typeof ref === 'string') : [];
        const target = ref === '' ? undefined : this.#target(ref);
        const holder = target && this.#holder(target);
        if (!holder) return [];
        return [[parsePointer(decoded(ref.slice(1))).at(-1) ?? this.#name, holder] as const];
      });
      // One of several things that have names: each is a type.
      if (several.length > 1) return several;

      const holder = this.#holder(document);
      if (holder) return [[this.#name, holder]];
    }

    // What something else is made of is a part of that.
    const used = new Set(
      named.flatMap(([ownName, schema]) => [...refsIn(schema)].filter((ref) => !ref.endsWith(`/${ownName}`))),
    );
    const free = named.filter(([ownName]) => ![...used].some((ref) => ref.endsWith(`/${ownName}`)));

    return (free.length > 0 ? free : named).map(([name, schema]) => [name, this.#holder(schema) ?? schema]);
  }

  /** What an object holds whose keys all lead to lists or maps of entries: each is a type. */
  #envelope({ properties }: JsonObject): readonly (readonly [string, JsonObject])[] {
    const held = Object.entries(object(properties)).map(([key, value]) => {
      const combined = isObject(value) ? this.#whole(value, []) : {};
      const holder = isObject(this.#together(combined).properties) ? undefined : this.#holder(combined);
      return holder && ([key, holder] as const);
    });
    const types = held.filter((type) => type !== undefined);
    const isMeant =
      types.length > 0 && (types.length === held.length || (types.length > 1 && 2 * types.length > held.length));
    if (isMeant)
      for (const [index, key] of Object.keys(object(properties)).entries())
        if (!held[index]) this.#say(key, 'is no list and no map of things with keys');

    if (isMeant) return types;
    return [];
  }

  /** The schema of one entry: of an object itself, of a list or a map of its content. */
  #holder(schema: JsonObject, depth = 0): JsonObject | undefined {
    if (depth > 3) return undefined;

    const combined = this.#together(this.#whole(schema, []));
    if (isObject(combined.properties)) return combined;

    const { items } = combined;
    if (isObject(items)) return this.#holder(items, depth + 1);

    const values = mapValue(combined);
    return values && this.#holder(values, depth + 1);
  }

  /** Several forms of an object as one with the fields of all of them. */
  #together(schema: JsonObject): JsonObject {
    const forms = list(schema.oneOf ?? schema.anyOf)
      .filter(isObject)
      .map((alternative) => this.#whole(alternative, []));
    if (forms.length === 0 || !forms.every(({ properties }) => isObject(properties))) return schema;
    const { oneOf: _, anyOf: __, ...rest } = schema;
    return { ...alternatives(forms, rest), required: requiredInAll(forms), [formsKey]: forms.length };
  }

  /* ── what a schema says altogether ─────────────────────────────────────────────────────────────────────────── */

  /** A schema with its targets, and its content in several parts, in one. */
  #whole(schema: JsonObject, path: readonly string[]): JsonObject {
    const existing = this.#wholes.get(schema);
    if (existing) return existing;

    const circlesBefore = this.#circles;
    const combined = this.#wholeAnew(schema, path);
    // The part left out of a circle depends on the start.
    if (this.#circles === circlesBefore) this.#wholes.set(schema, combined);
    return combined;
  }

  #wholeAnew(schema: JsonObject, path: readonly string[]): JsonObject {
    const { $ref, allOf, ...rest } = schema;
    this.#visits += 1;
    if (this.#visits > mostVisits) {
      this.#say(this.#name, 'leads round and round: not all that it refers to was followed');
      return rest;
    }

    const parts: JsonObject[] = [];
    if (typeof $ref === 'string' && path.includes($ref)) this.#circles += 1;
    else if (typeof $ref === 'string') {
      const target = this.#target($ref);
      if (target) parts.push(this.#whole(target, [...path, $ref]));
      else this.#say($ref, 'is not in the file or beside it, and nothing is fetched');
    }

    for (const part of isList(allOf) ? allOf : []) if (isObject(part)) parts.push(this.#whole(part, path));

    return [...parts, rest].reduce(merged, {});
  }

  #target(ref: string): JsonObject | undefined {
    const existing = this.#anchors.get(ref);
    if (existing) return existing;
    if (!ref.startsWith('#')) return undefined;

    let current: Json | undefined = this.#document;
    for (const key of parsePointer(decoded(ref.slice(1)))) {
      if (isList(current)) current = current[Number(key)];
      else current = isObject(current) ? ownValue(current, key) : undefined;
    }

    if (isObject(current)) return current;
    return undefined;
  }

  /* ── fields ────────────────────────────────────────────────────────────────────────────────────────────────── */

  #fields(schema: JsonObject, address: string, refs: readonly string[]): JsonObject | undefined {
    if (!isObject(schema.properties)) return undefined;

    const required = new Set(isList(schema.required) ? schema.required : []);
    this.#sayOthers(schema, address);
    const fields: Record<string, Json> = {};
    const fit = fitKeys(Object.keys(schema.properties));
    for (const [key, property] of Object.entries(schema.properties)) {
      const place = `${address}.${key}`;
      if (!fit.has(key)) {
        this.#say(place, 'no field can be called so, or another one is');
        continue;
      }
      if (!isObject(property)) {
        if (property !== false)
          put(fields, key, compact({ kind: 'json', required: required.has(key) ? true : undefined }));
        continue;
      }

      const definition = this.#field(property, place, refs);
      put(
        fields,
        key,
        this.#sound({ ...definition, ...(required.has(key) ? this.#need(property, definition) : {}) }, place),
      );
    }

    return fields;
  }

  /** The meaning of a required property: none if null is allowed; a list may be empty. */
  #need(property: JsonObject, { many }: JsonObject): JsonObject {
    const combined = this.#whole(property, []);
    const choices = list(combined.anyOf ?? combined.oneOf).filter(isObject);
    const isNullable =
      combined.nullable === true ||
      this.#typesOf(combined).includes('null') ||
      list(combined.enum).some((value) => value === null || value === '') ||
      choices.some((choice) => this.#isNone(this.#whole(choice, [])));
    const isFilled = isObject(combined.not) && this.#isNone(this.#whole(combined.not, []));
    if (isFilled) return { required: true };
    if (isNullable) return {};
    return compact({
      required: true,
      mayBeEmpty: many === undefined || (isObject(many) && many.min !== undefined) ? undefined : true,
    });
  }

  #field(property: JsonObject, address: string, refs: readonly string[]): JsonObject {
    const refsInside = typeof property.$ref === 'string' ? [...refs, property.$ref] : refs;
    this.#fieldCount += 1;
    if (this.#fieldCount > mostFields) {
      this.#say(this.#name, `has more than ${groupThousands(mostFields)} fields; those beyond are free JSON`);
      return { kind: 'json' };
    }

    const isCircular = new Set(refsInside).size < refsInside.length;
    if (isCircular || refsInside.length > deepest) {
      this.#say(address, isCircular ? 'holds itself again' : `is nested more than ${deepest} references deep`);
      return { kind: 'json' };
    }

    const schema = this.#whole(property, refs);
    const { kind, ...value } = this.#value(schema, address, refsInside);

    return compact({
      kind,
      ...labelled(schema, address),
      default: plainDefault(schema.default),
      ...value,
    }) as JsonObject;
  }

  /** The kind of a value with its options, a list among them. */
  #value(schema: JsonObject, address: string, refs: readonly string[]): JsonObject {
    const choices = schema.anyOf ?? schema.oneOf;
    if (isList(choices)) return this.#either(schema, choices.filter(isObject), address, refs);

    this.#sayKeywords(schema, address);
    const types = this.#typesOf(schema).filter((type) => type !== 'null');
    const [type] = types;
    if (types.length > 1) {
      const single = types.filter((type) => type !== 'array');
      if (single.length === 1 && types.length === 2) return { ...this.#list(schema, address, refs), ...orOne };
      if (types.every((type) => type === 'integer' || type === 'number')) return this.#number(schema, 'number');
      this.#say(address, `may be ${types.join(' or ')}`);
      return { kind: 'json' };
    }
    if (type === 'array') return this.#list(schema, address, refs);

    const values = schema.const === undefined ? schema.enum : [schema.const];
    if (isList(values) && values.length > 0) return this.#among(values, address);

    switch (type) {
      case 'string':
        return this.#text(schema, address);
      case 'integer':
      case 'number':
        return this.#number(schema, type);
      case 'boolean':
        return { kind: 'boolean' };
      case 'object':
        return this.#object(schema, address, refs);
      default:
        return { kind: 'json' };
    }
  }

  #typesOf(schema: JsonObject): readonly string[] {
    const { type } = schema;
    if (typeof type === 'string') return [type];
    if (isList(type)) return type.filter((value) => typeof value === 'string');
    if (
      schema.properties !== undefined ||
      schema.additionalProperties !== undefined ||
      schema.patternProperties !== undefined
    )
      return ['object'];
    if (schema.items !== undefined) return ['array'];
    if (isList(schema.enum) && schema.enum.every((value) => typeof value === 'string')) return ['string'];
    if (schema.pattern !== undefined || schema.format !== undefined || schema.maxLength !== undefined)
      return ['string'];
    return [];
  }

  #either(schema: JsonObject, choices: readonly JsonObject[], address: string, refs: readonly string[]): JsonObject {
    const { anyOf: _, oneOf: __, ...rest } = schema;
    const wholes = choices.map((choice) => this.#whole(choice, refs)).filter((object) => !this.#isNone(object));
    const [first, second] = wholes;
    if (first && wholes.length === 1) return this.#value(merged(rest, first), address, refs);

    const values = wholes.map((object) => (object.const === undefined ? object.enum : [object.const]));
    if (wholes.length > 0 && values.every(isList))
      return this.#among(
        values.flatMap((item) => (isList(item) ? item : [])),
        address,
      );

    if (first && second && wholes.length === 2) {
      const lists = wholes.filter((object) => this.#typesOf(object).includes('array'));
      const [list] = lists;
      const item = list && isObject(list.items) ? this.#whole(list.items, refs) : undefined;
      const single = wholes.find((object) => object !== list);
      if (list && item && single && lists.length === 1 && equal(this.#typesOf(item), this.#typesOf(single)))
        return { ...this.#list(list, address, refs), ...orOne };
    }

    const kinds = wholes.map((object) => this.#typesOf(object).join());
    if (
      wholes.length > 1 &&
      new Set(kinds).size === 1 &&
      kinds[0] === 'object' &&
      wholes.every((object) => isObject(object.properties))
    ) {
      this.#say(address, `is one of ${wholes.length} forms; its fields are those of all of them`);
      return this.#value({ ...alternatives(wholes, rest), required: requiredInAll(wholes) }, address, refs);
    }
    if (
      wholes.length > 1 &&
      new Set(kinds).size === 1 &&
      kinds[0] !== 'object' &&
      kinds[0] !== 'array' &&
      kinds[0] !== ''
    ) {
      this.#say(address, `is one of ${wholes.length} forms of ${kinds[0]}`);
      return this.#value(compact({ ...rest, type: kinds[0] }), address, refs);
    }

    this.#say(address, `is one of ${wholes.length} things that are not alike`);

    return { kind: 'json' };
  }

  /** Whether nothing but no value is taken: nothing, an empty text, an empty list or group. */
  #isNone(schema: JsonObject): boolean {
    const inside = schema.anyOf ?? schema.oneOf;
    if (isList(inside)) return inside.filter(isObject).every((object) => this.#isNone(this.#whole(object, [])));

    const values = schema.const === undefined ? schema.enum : [schema.const];
    if (isList(values)) return values.every((value) => value === null || value === '');
    return (
      schema.maxItems === 0 ||
      schema.maxProperties === 0 ||
      schema.maxLength === 0 ||
      equal(this.#typesOf(schema), ['null'])
    );
  }

  #among(values: readonly Json[], address: string): JsonObject {
    const given = values.filter((value) => value !== null);
    if (given.every((value) => typeof value === 'boolean')) return { kind: 'boolean' };
    if (given.every((value) => Number.isInteger(value))) return { kind: 'integer', values: given };
    if (given.every((value) => typeof value === 'number')) return { kind: 'decimal', values: given };

    const texts = [...new Set(given.filter((value) => typeof value === 'string' && value !== ''))] as string[];
    if (texts.length > 0 && texts.every(isId)) return { kind: 'choice', choices: texts };

    this.#say(address, 'names values that no choice can be called');
    return { kind: given.every((value) => typeof value === 'string') ? 'text' : 'json' };
  }

  #text(schema: JsonObject, address: string): JsonObject {
    const definition = typeof schema.format === 'string' ? ownValue(formats, schema.format) : undefined;
    if (definition) return definition;

    if (schema.format !== undefined) this.#say(address, `has the format ${String(schema.format)}`);
    const { minLength: min, maxLength: max, pattern } = schema;
    const isMarkdown = schema.contentMediaType === 'text/markdown';
    const isLong = typeof max === 'number' && max > longText;
    // That it is one line goes without saying.
    const isOneLine = pattern === oneLine;
    const isUsable = typeof pattern === 'string' && !isOneLine && 'value' in compilePattern(pattern);
    if (typeof pattern === 'string' && !isUsable && !isOneLine) this.#say(address, `matches ${pattern}`);

    return compact({
      kind: isMarkdown ? 'markdown' : (isLong && 'longText') || 'text',
      min: typeof min === 'number' && min > 1 ? min : undefined,
      max: typeof max === 'number' && max > 0 ? max : undefined,
      pattern: isUsable ? { match: pattern, say: `Match ${pattern}.` } : undefined,
    });
  }

  #number({ minimum, maximum, exclusiveMinimum, exclusiveMaximum, multipleOf }: JsonObject, type: string): JsonObject {
    const isWhole = type === 'integer' || multipleOf === 1;
    const above = typeof exclusiveMinimum === 'number' ? exclusiveMinimum + (isWhole ? 1 : 0) : undefined;
    const below = typeof exclusiveMaximum === 'number' ? exclusiveMaximum - (isWhole ? 1 : 0) : undefined;
    const places = typeof multipleOf === 'number' ? /^1?e?-?(\d+)$/u.exec(multipleOf.toExponential())?.[1] : undefined;

    return compact({
      kind: isWhole ? 'integer' : 'decimal',
      min: typeof minimum === 'number' ? minimum : above,
      max: typeof maximum === 'number' ? maximum : below,
      places: !isWhole && places !== undefined && Number(multipleOf) < 1 ? Number(places) : undefined,
    });
  }

  #list(schema: JsonObject, address: string, refs: readonly string[]): JsonObject {
    const { items, minItems: min, maxItems: max, uniqueItems } = schema;
    const many = compact({
      min: typeof min === 'number' && min > 0 ? min : undefined,
      max: typeof max === 'number' && max > 0 ? max : undefined,
      distinct: uniqueItems === true ? true : undefined,
    });
    const bounds = Object.keys(many).length > 0 ? many : true;
    if (!isObject(items)) {
      if (isList(items) || schema.prefixItems !== undefined) this.#say(address, 'is a list with a place for each item');
      return { kind: 'json' };
    }

    const { kind = 'json', many: inner, label: _, help: __, ...definition } = this.#field(items, `${address}[]`, refs);
    if (inner !== undefined) {
      this.#say(address, 'is a list of lists');
      return { kind: 'json' };
    }
    return { ...definition, kind, many: bounds };
  }

  #object(schema: JsonObject, address: string, refs: readonly string[]): JsonObject {
    const fields = this.#fields(schema, address, refs);
    if (fields && Object.keys(fields).length > 0) return { kind: 'object', fields };
    const values = mapValue(schema);
    if (!values) return { kind: 'json' };
    const { label: _, help: __, default: ___, ...value } = this.#field(values, `${address}.*`, refs);
    return { kind: 'map', keys: { kind: 'text' }, value: this.#sound(value, `${address}.*`) };
  }

  /** A field that can be read; options that cannot stand are left out, and said. */
  #sound(definition: JsonObject, address: string): JsonObject {
    let field = definition;
    for (let round = 0; round < 20; round += 1) {
      const [mistake] = readField(field).mistakes;
      if (!mistake) return field;
      const [option] = mistake.path;
      if (typeof option !== 'string' || option === 'kind' || !Object.hasOwn(field, option)) break;
      this.#say(address, mistake.says);
      field = Object.fromEntries(Object.entries(field).filter(([key]) => key !== option));
    }

    if (readField(field).mistakes.length === 0) return field;
    return { kind: 'json' };
  }

  #sayKeywords(schema: JsonObject, address: string): void {
    const isFilled = isObject(schema.not) && this.#isNone(this.#whole(schema.not, []));
    for (const key of Object.keys(schema))
      if (!(key === 'not' && isFilled) && !understood.has(key) && key !== besideKey && !key.startsWith('x-'))
        this.#say(address, `says \`${key}\``);
  }

  #sayOthers(schema: JsonObject, address: string): void {
    this.#sayKeywords(schema, address);
    if (isObject(schema.patternProperties) && Object.keys(schema.patternProperties).length > 0)
      this.#say(address, 'has keys by a pattern beside its own');
    if (isObject(schema.additionalProperties)) this.#say(address, 'has other keys beside its own');
    if (isList(schema.anyOf) || isList(schema.oneOf)) this.#say(address, 'has to be one of several forms');
  }
}
