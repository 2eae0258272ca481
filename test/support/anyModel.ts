import fc from 'fast-check';
import { z } from 'zod';
import { compile } from '../../src/core/check/compile.ts';
import { CrossEntryCheck } from '../../src/core/check/crossEntry.ts';
import { FactsPacker } from '../../src/core/check/packedFacts.ts';
import { verify } from '../../src/core/check/verifyModel.ts';
import type { FieldDoc } from '../../src/core/definition/field.ts';
import type { ModelDoc } from '../../src/core/definition/model.ts';
import type { TaxonomyDoc } from '../../src/core/definition/taxonomy.ts';
import type { TypeDoc } from '../../src/core/definition/type.ts';
import { type Entry, keyOf } from '../../src/core/entry/entry.ts';
import type { Finding } from '../../src/core/entry/findings.ts';
import type { Kind } from '../../src/core/kinds/define.ts';
import { kinds } from '../../src/core/kinds/index.ts';
import { type Field, link, type Model } from '../../src/core/model/link.ts';
import { readField } from '../../src/core/model/readField.ts';
import { isList, isObject, type Json, type JsonObject, withoutKey } from '../../src/core/plain/json.ts';

/**
 * Random models of every kind and option there is, with types that extend each other, rules, conditions and taxonomies;
 * and entries that obey them together. What a kind brings follows from its definition: its options from its example and
 * the schema of its options, its values from the examples of all kinds.
 */
const typeNames = ['keeper', 'lighthouse', 'place', 'tour'] as const;
const fieldNames = ['a', 'b', 'c', 'd'] as const;
const languages = ['en', 'fr'] as const;

/* ── options ─────────────────────────────────────────────────────────────────────────────────────────────────── */

interface OptionSchema {
  readonly enum?: readonly Json[];
  readonly items?: OptionSchema;
  readonly anyOf?: readonly OptionSchema[];
}

/** Values like one that is right: a number near it, some of a list, some of the keys, another word of an enumeration. */
function like(value: Json, schema: OptionSchema = {}): fc.Arbitrary<Json> {
  const words = [schema, ...(schema.anyOf ?? [])].flatMap((one) => one.enum ?? []);
  if (words.length > 0) return fc.constantFrom(value, ...words);
  if (typeof value === 'number')
    return fc.constantFrom(value, value + 1, Math.max(1, value - 1), Math.ceil(value / 2), value * 2);
  if (isList(value)) {
    const all = [...value, ...(schema.items?.enum ?? [])];
    return fc.subarray(all, { minLength: 1 });
  }
  if (isObject(value))
    return fc
      .record(Object.fromEntries(Object.entries(value).map(([key, one]) => [key, like(one)])), {
        requiredKeys: [],
        noNullPrototype: true,
      })
      .map((one) => one as Json);
  return fc.constant(value);
}

const more: Readonly<Record<string, readonly JsonObject[]>> = {
  reference: [
    { to: ['keeper'] },
    { to: ['keeper', 'lighthouse'] },
    { to: ['place'] },
    { to: ['place'], inverse: { name: 'others', min: 1 } },
    { to: ['keeper'], eligible: "target.status == 'published'" },
    { to: ['place'], eligible: 'has(target.a)' },
  ],
  term: [
    { taxonomy: 'region' },
    { taxonomy: 'region', leaves: true },
    { taxonomy: 'area', leaves: true },
    { taxonomy: 'region', under: ['north'] },
  ],
  slug: [{ from: 'a' }],
  map: [
    { keys: { kind: 'text' }, value: { kind: 'integer', max: 5 } },
    { keys: { kind: 'term', taxonomy: 'region', leaves: true }, value: { kind: 'text', required: true } },
    { keys: { kind: 'reference', to: ['keeper'] }, value: { kind: 'object', fields: { x: { kind: 'text' } } } },
    { keys: { kind: 'language' }, value: { kind: 'text', max: 3 } },
  ],
};

function optionsOf(kind: Kind): fc.Arbitrary<JsonObject> {
  const { properties = {} } = z.toJSONSchema(z.object(kind.shape), { io: 'input', unrepresentable: 'any' }) as {
    properties?: Record<string, OptionSchema>;
  };
  const { options } = kind.example;
  const own = fc.record(
    Object.fromEntries(Object.entries(options).map(([key, value]) => [key, like(value, properties[key])])),
    { requiredKeys: [], noNullPrototype: true },
  ) as fc.Arbitrary<JsonObject>;
  const others = more[kind.name] ?? [];
  return others.length > 0 ? fc.oneof(own, fc.constantFrom(...others)) : own;
}

const common = fc.record(
  {
    required: fc.constantFrom<Json>(true, 'published'),
    unique: fc.constant(true),
    localized: fc.constant(true),
    mayBeEmpty: fc.constant(true),
    many: fc.constantFrom<Json>(true, { max: 2 }, { min: 1 }, { orOne: true }),
    when: fc.constantFrom('has(entry.a)', "entry.status == 'published'", '!has(entry.b)'),
    computed: fc.constantFrom<Json>(
      '1',
      'has(entry.a) ? entry.a : entry.b',
      { count: 'tour.a' },
      { count: 'keeper.b' },
    ),
  },
  { requiredKeys: [], noNullPrototype: true },
) as fc.Arbitrary<JsonObject>;

/** Each option that every field has is there one time in six. */
const seldom = fc
  .tuple(common, fc.array(fc.nat(5), { minLength: 8, maxLength: 8 }))
  .map(([all, dice]): JsonObject => Object.fromEntries(Object.entries(all).filter((_, index) => dice[index] === 0)));

/** A field of a kind. Objects hold fields of their own. */
function fieldOf(kind: Kind, depth = 0): fc.Arbitrary<FieldDoc | undefined> {
  const inner = kind.nests
    ? fc
        .dictionary(fc.constantFrom('a', 'x', 'y'), depth > 0 ? plain : anyField(depth + 1), {
          minKeys: 1,
          maxKeys: 3,
          noNullPrototype: true,
        })
        .map((fields) => ({ fields: fields as unknown as JsonObject }))
    : optionsOf(kind);
  return fc.tuple(inner, seldom).map(([options, all]) => {
    const whole = { kind: kind.name, ...options, ...all } as JsonObject;
    const tries = [whole, withoutKey(whole, 'localized'), { kind: kind.name, ...options } as JsonObject];
    return tries.map((one) => readField(one).field).find(Boolean);
  });
}

const plain = fc.constant<FieldDoc>({ kind: 'text' });
const allKinds = [...kinds.values()];

/** Made once for each depth: it is asked for with each model, and what it is made from takes longer than a field. */
const anyField = (depth = 0): fc.Arbitrary<FieldDoc> => {
  fieldsByDepth[depth] ??= makeAnyField(depth);
  return fieldsByDepth[depth];
};

const fieldsByDepth: fc.Arbitrary<FieldDoc>[] = [];

function makeAnyField(depth: number): fc.Arbitrary<FieldDoc> {
  const some = depth === 0 ? allKinds : allKinds.filter(({ unique, nests }) => !unique && !nests);
  return fc.oneof(...some.map((kind) => fieldOf(kind, depth))).map((field) => field ?? { kind: 'text' });
}

/* ── models ──────────────────────────────────────────────────────────────────────────────────────────────────── */

/** A model before it is made whole: what each type says itself. */
export interface Sketch {
  readonly types: Readonly<
    Record<
      string,
      {
        readonly extends: string | undefined;
        readonly options: Omit<TypeDoc, 'fields'>;
        readonly fields: Readonly<Record<string, FieldDoc>>;
      }
    >
  >;
  readonly taxonomies: Readonly<Record<string, TaxonomyDoc>>;
  readonly languages: readonly string[];
  readonly frIsRequired: boolean;
}

const rules = fc.constantFrom<TypeDoc['rules']>(
  [{ expect: 'has(entry.a)', say: 'There is an a.' }],
  [{ expect: '!has(entry.b)', say: 'There is no b.' }],
  [{ expect: "entry.status != 'draft'", say: 'No drafts.' }],
);
const typeOptions = fc
  .tuple(
    fc.record({ rules, single: fc.constant(true as const) }, { requiredKeys: [], noNullPrototype: true }),
    fc.nat(3),
    fc.nat(7),
  )
  .map(([options, rule, single]) => ({
    ...(rule === 0 && options.rules ? { rules: options.rules } : {}),
    ...(single === 0 && options.single ? { single: options.single } : {}),
  })) as fc.Arbitrary<Omit<TypeDoc, 'fields'>>;

const anyFields = fc.dictionary(fc.constantFrom(...fieldNames), anyField(), { maxKeys: 4, noNullPrototype: true });
const fieldsOfType = fc.oneof(
  { arbitrary: anyFields, weight: 4 },
  // A slug is made from a text, which has to be there.
  {
    arbitrary: anyFields.map((fields) => ({ ...fields, a: { kind: 'text' }, d: { kind: 'slug', from: 'a' } })),
    weight: 1,
  },
);
const baseOf = (name: string): fc.Arbitrary<string | undefined> =>
  name === 'place' ? fc.constant(undefined) : fc.constantFrom('place', undefined, undefined);
const sketchType = (name: string) => fc.record({ extends: baseOf(name), options: typeOptions, fields: fieldsOfType });

const region: fc.Arbitrary<TaxonomyDoc> = fc
  .subarray(['north', 'skerries', 'holm-bay', 'south'], { minLength: 1 })
  .chain((names) => fc.tuple(fc.constant(names), fc.array(fc.boolean(), { minLength: 4, maxLength: 4 })))
  .map(([names, below]) => {
    const [first = 'north', ...others] = names;
    const nested = others.filter((_, index) => below[index]);
    const beside = others.filter((_, index) => !below[index]);
    return {
      terms: Object.fromEntries(names.map((name) => [name, {}])),
      tree: [
        { term: first, ...(nested.length > 0 ? { terms: nested.map((term) => ({ term })) } : {}) },
        ...beside.map((term) => ({ term })),
      ],
    };
  });
const area: fc.Arbitrary<TaxonomyDoc> = fc.constantFrom<TaxonomyDoc>(
  { terms: { coast: {} }, tree: [{ term: 'coast' }], borrows: ['region:'] },
  { terms: { coast: {} }, tree: [{ term: 'coast' }], borrows: ['region:north'] },
  { terms: { coast: {}, sea: {} }, tree: [{ term: 'coast', terms: [{ term: 'sea' }] }] },
);

export const sketch: fc.Arbitrary<Sketch> = fc.record({
  types: fc.record(Object.fromEntries(typeNames.map((name) => [name, sketchType(name)])), { noNullPrototype: true }),
  taxonomies: fc.record({ region, area }, { noNullPrototype: true }),
  languages: fc.constantFrom(['en'], ['en', 'fr']),
  frIsRequired: fc.boolean(),
});

/** A sketch after one thing in it was changed. */
export const edited = (from: Sketch): fc.Arbitrary<Sketch> => {
  const type = fc.constantFrom(...typeNames);
  const withType = (name: string, change: (one: Sketch['types'][string]) => Sketch['types'][string]): Sketch => ({
    ...from,
    types: { ...from.types, [name]: change(from.types[name] ?? { extends: undefined, options: {}, fields: {} }) },
  });
  const oldFields = Object.entries(from.types).flatMap(([name, { fields }]) =>
    Object.entries(fields).map(([field, definition]) => ({ name, field, definition })),
  );
  const sameKind =
    oldFields.length === 0
      ? []
      : [
          fc.constantFrom(...oldFields).chain(({ name, field, definition }) => {
            const kind = kinds.get(definition.kind);
            const again: fc.Arbitrary<FieldDoc | undefined> = kind ? fieldOf(kind) : plain;
            // Some options of the new one over the old ones, and some taken away.
            return fc
              .tuple(again, fc.subarray(Object.keys(definition).filter((key) => key !== 'kind' && key !== 'fields')))
              .map(([other, gone]) => {
                const kept = gone.reduce((one, key) => withoutKey(one, key), definition as JsonObject);
                const mixed = readField({ ...kept, ...(gone.length % 2 === 0 ? (other ?? {}) : {}) }).field;
                return withType(name, (one) => ({ ...one, fields: { ...one.fields, [field]: mixed ?? definition } }));
              });
          }),
        ];
  return fc.oneof(
    ...sameKind,
    ...sameKind,
    fc
      .tuple(type, fc.constantFrom(...fieldNames), anyField())
      .map(([name, field, definition]) =>
        withType(name, (one) => ({ ...one, fields: { ...one.fields, [field]: definition } })),
      ),
    fc.tuple(type, typeOptions).map(([name, options]) => withType(name, (one) => ({ ...one, options }))),
    type.chain((name) => baseOf(name).map((base) => withType(name, (one) => ({ ...one, extends: base })))),
    region.map((one) => ({ ...from, taxonomies: { ...from.taxonomies, region: one } })),
    area.map((one) => ({ ...from, taxonomies: { ...from.taxonomies, area: one } })),
    fc.constantFrom(['en'], ['en', 'fr'], ['fr', 'en']).map((some) => ({ ...from, languages: some })),
    fc.boolean().map((frIsRequired) => ({ ...from, frIsRequired })),
  );
};

/** The whole model of a sketch, without the parts that are mistakes. */
export function wholeOf({ types, taxonomies: all, languages: some, frIsRequired }: Sketch): ModelDoc {
  let taxonomies = all;
  let fieldsOf = Object.fromEntries(Object.entries(types).map(([name, { fields }]) => [name, fields]));
  let optionsOfType = Object.fromEntries(Object.entries(types).map(([name, { options }]) => [name, options]));
  const make = (): ModelDoc => {
    const base = fieldsOf.place ?? {};
    const extending = Object.entries(types).filter(([, one]) => one.extends !== undefined);
    const whole = Object.entries(types).map(([name, one]): [string, TypeDoc] => {
      const own = fieldsOf[name] ?? {};
      const rulesAbove = one.extends === undefined ? [] : (optionsOfType.place?.rules ?? []);
      const all = [...rulesAbove, ...(optionsOfType[name]?.rules ?? [])];
      const { rules: _, ...options } = optionsOfType[name] ?? {};
      return [
        name,
        {
          ...options,
          ...(all.length > 0 ? { rules: all } : {}),
          // A field of the base type is taken as it is.
          fields: one.extends === undefined ? own : { ...own, ...base },
        },
      ];
    });
    return {
      languages: some,
      ...(frIsRequired && some.includes('fr') ? { languageOptions: { fr: { required: true as const } } } : {}),
      types: Object.fromEntries(whole),
      taxonomies,
      ...(extending.length > 0
        ? { shared: { types: Object.fromEntries(extending.map(([name]) => [name, { extends: 'place' }])) } }
        : {}),
    };
  };
  for (let round = 0; round < 40; round += 1) {
    const [mistake] = verify(link(make()));
    if (!mistake) return make();
    const [root, type = '', part, field = ''] = mistake.path.map(String);
    if (root === 'taxonomies')
      taxonomies = { ...taxonomies, area: { terms: { coast: {} }, tree: [{ term: 'coast' }] } };
    else if (part === 'fields' && Object.hasOwn(fieldsOf[type] ?? {}, field))
      fieldsOf = {
        ...fieldsOf,
        [type]: Object.fromEntries(Object.entries(fieldsOf[type] ?? {}).filter(([name]) => name !== field)),
      };
    else if (part === 'fields')
      fieldsOf = {
        ...fieldsOf,
        place: Object.fromEntries(Object.entries(fieldsOf.place ?? {}).filter(([name]) => name !== field)),
      };
    else optionsOfType = { ...optionsOfType, [type]: {}, place: {} };
  }
  throw new Error(`no sound model comes of ${JSON.stringify({ types, taxonomies })}`);
}

/* ── entries ─────────────────────────────────────────────────────────────────────────────────────────────────── */

const ids = typeNames.flatMap((type) => [0, 1].flatMap((number) => [`${type}-${number}`, `${type}/${type}-${number}`]));
const pool: readonly Json[] = [
  ...allKinds.map(({ example }) => example.value),
  ...ids,
  ...[
    '',
    'x',
    'Two words',
    'two\nlines',
    '2026-01-01',
    '09:30',
    'PT2H',
    'easy',
    'very-hard',
    'north',
    'skerries',
    'holm-bay',
    'south',
    'coast',
    'sea',
  ],
  ...[0, 1, 2, 5, 21, 2.5, -3, true, false],
  ...[
    {},
    [],
    { a: 1 },
    ['x'],
    { 'keeper-0': { x: 'x' } },
    { north: 'x', south: 'y' },
    { en: 'a', fr: 'b' },
    { a: 2, b: 9 },
  ],
];

/** Values of a field: most of them right. */
function valuesOf(field: Field, model: Model): fc.Arbitrary<Json> {
  const single = singleOf(field, model);
  const inOne = field.common.many ? fc.array(single, { maxLength: 3 }) : single;
  return field.common.localized
    ? (fc.record(Object.fromEntries(languages.map((one) => [one, inOne])), {
        requiredKeys: ['en'],
        noNullPrototype: true,
      }) as fc.Arbitrary<Json>)
    : inOne;
}

function singleOf(field: Field, model: Model): fc.Arbitrary<Json> {
  if (field.kind.nests)
    return fc.record(Object.fromEntries([...field.fields].map(([name, inner]) => [name, valuesOf(inner, model)])), {
      requiredKeys: [],
      noNullPrototype: true,
    }) as fc.Arbitrary<Json>;
  const check = field.kind.check(field.options, model.context);
  const right = pool.filter((value) => {
    let isRight = true;
    check(value, () => {
      isRight = false;
    });
    return isRight;
  });
  return right.length > 0 ? fc.constantFrom(...right) : fc.constantFrom(...pool);
}

/** Entries that obey a model together: those that break it are taken out until none does. */
export function obeying(model: Model): fc.Arbitrary<readonly Entry[]> {
  const all = [...model.types.values()].flatMap((type) =>
    [0, 1].map((number) =>
      fc
        .record(
          {
            status: fc.constantFrom<Json>('draft', 'published'),
            ...Object.fromEntries(
              [...type.fields.values()]
                .filter(({ common: one }) => !one.computed)
                .map((field) => [field.name, valuesOf(field, model)]),
            ),
          },
          {
            requiredKeys: [...type.fields.values()]
              .filter(({ common: one }) => one.required)
              .map(({ name }) => name as 'status'),
            noNullPrototype: true,
          },
        )
        .map((values): Entry => ({ type: type.name, id: `${type.name}-${number}`, values: values as JsonObject })),
    ),
  );
  return fc.tuple(...all).map((entries) => {
    let left: readonly Entry[] = entries;
    for (;;) {
      const wrong = new Set(errorsOf(model, left).map(({ entry }) => keyOf(entry)));
      if (wrong.size === 0) return left;
      left = left.filter((entry) => !wrong.has(keyOf(entry)));
    }
  });
}

/** What is wrong with entries when all of them are checked together. */
export const errorsOf = (model: Model, entries: readonly Entry[]): readonly Finding[] =>
  findingsOf(model, entries).filter(({ severity }) => severity === 'error');

/** What a check of entries finds, of each alone and of all together. */
export function findingsOf(model: Model, entries: readonly Entry[]): readonly Finding[] {
  const checker = compile(model);
  const together = new CrossEntryCheck<string>(model, { sayPlace: String });
  const packer = new FactsPacker(model);
  const alone = entries.flatMap((entry) => {
    const { findings, facts } = checker.check(entry);
    packer.add(facts, entry);
    return findings;
  });
  together.add(packer.done(), (index) => keyOf(entries[index] as Entry));
  return [...alone, ...together.join().findings];
}
