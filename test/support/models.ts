import fc from 'fast-check';
import type { FieldDoc } from '../../src/core/definition/field.ts';
import type { ModelDoc } from '../../src/core/definition/model.ts';
import type { Preview } from '../../src/core/definition/preview.ts';
import type { Shared } from '../../src/core/definition/shared.ts';
import type { Branch } from '../../src/core/definition/taxonomy.ts';
import type { Entry } from '../../src/core/entry/entry.ts';
import { readField } from '../../src/core/model/readField.ts';
import type { Json, JsonObject } from '../../src/core/plain/json.ts';

/** Random models and entries that obey them, small enough to collide in names as real ones do. */
const typeNames = ['lighthouse', 'keeper', 'tour', 'notice'] as const;
const fieldNames = ['name', 'summary', 'height', 'focalHeight', 'region', 'firstLit', 'story'] as const;
const terms = ['north', 'skerries', 'holm-bay', 'south', 'islands'] as const;
const choices = ['easy', 'moderate', 'hard', 'very-hard'] as const;

const bounds = (least: number, most: number) =>
  fc.record(
    {
      min: fc.integer({ min: least, max: (least + most) >> 1 }),
      max: fc.integer({ min: (least + most) >> 1, max: most }),
    },
    { requiredKeys: [] },
  );

const common = fc.record(
  {
    required: fc.constantFrom<Json>(true, 'published'),
    label: fc.constantFrom('Name', 'Height'),
    help: fc.constantFrom<Json>('Write for a visitor.', { en: 'For a visitor.' }),
    unique: fc.constant(true),
    localized: fc.constant(true),
    many: fc.constantFrom<Json>(true, { max: 3 }, { min: 1 }),
  },
  { requiredKeys: [] },
);

/** The fields inside an object: some of a few, which differ from one object to the next in every way. */
const inside = fc
  .record<Record<string, Json>>(
    {
      note: bounds(1, 20).map((options) => ({ kind: 'text', ...options })),
      remark: fc.constant({ kind: 'text' }),
      steps: fc.constantFrom<Json>({ kind: 'integer' }, { kind: 'text' }, { kind: 'integer', many: true }),
      stepCount: fc.constant({ kind: 'integer' }),
      pace: fc.subarray([...choices], { minLength: 1 }).map((some) => ({ kind: 'choice', choices: some })),
      inner: fc.constantFrom<Json>(
        { kind: 'object', fields: { note: { kind: 'text' } } },
        { kind: 'object', many: true, fields: { note: { kind: 'text', max: 5 }, steps: { kind: 'integer' } } },
      ),
    },
    { requiredKeys: [], noNullPrototype: true },
  )
  .filter((fields) => Object.keys(fields).length > 0);

const kindsWithout = (reference: readonly string[], taxonomies: readonly string[]) =>
  fc.oneof(
    bounds(1, 40).map((options) => ({ kind: 'text', ...options })),
    bounds(1, 60).map((options) => ({ kind: 'longText', ...options })),
    fc.constant({ kind: 'markdown' }),
    bounds(-5, 200).map((options) => ({ kind: 'integer', ...options })),
    fc
      .record({ unit: fc.constantFrom('m', 'EUR') }, { requiredKeys: [] })
      .map((options) => ({ kind: 'decimal', ...options })),
    fc.constant({ kind: 'boolean' }),
    fc.record({ max: fc.constantFrom(20, 200) }, { requiredKeys: [] }).map((options) => ({ kind: 'json', ...options })),
    inside.map((fields) => ({ kind: 'object', fields })),
    fc.constant({ kind: 'object', fields: { note: { kind: 'text', required: true } } }),
    fc
      .record({ min: fc.constantFrom('1700-01-01', '1850-06-01') }, { requiredKeys: [] })
      .map((options) => ({ kind: 'date', ...options })),
    fc.subarray([...choices], { minLength: 1 }).map((some) => ({ kind: 'choice', choices: some })),
    ...(taxonomies.length > 0 ? [fc.constantFrom(...taxonomies).map((taxonomy) => ({ kind: 'term', taxonomy }))] : []),
    ...(reference.length > 0
      ? [fc.subarray([...reference], { minLength: 1 }).map((to) => ({ kind: 'reference', to }))]
      : []),
  );

const field = (types: readonly string[], taxonomies: readonly string[]): fc.Arbitrary<FieldDoc> =>
  fc.tuple(kindsWithout(types, taxonomies), common).map(([kind, all]) => {
    const { localized, ...others } = all;
    const options = localized && kind.kind !== 'term' ? { ...others, localized } : others;
    const { field: definition } = readField({ ...kind, ...options } as JsonObject);
    if (!definition)
      throw new Error(`the generator made a field that cannot be read: ${JSON.stringify({ ...kind, ...options })}`);
    return definition;
  });

/** A tree of some terms: each stands at the top, or below the one before it. */
const tree = fc
  .tuple(fc.shuffledSubarray([...terms]), fc.array(fc.boolean(), { minLength: terms.length, maxLength: terms.length }))
  .map(([names, nested]) => {
    const roots: Branch[] = [];
    names.forEach((term, index) => {
      const last = roots.at(-1);
      if (nested[index] && last) roots[roots.length - 1] = { ...last, terms: [...(last.terms ?? []), { term }] };
      else roots.push({ term });
    });
    const labels = Object.fromEntries(
      names.map((name, index) => [
        name,
        index % 2 === 0
          ? {}
          : { label: `The ${name}`, ...(nested[index] ? { synonyms: ['rocks'], retired: true as const } : {}) },
      ]),
    );
    const also =
      nested[0] && names[0] !== undefined && roots.length > 1 ? [{ term: names[0], also: true as const }] : [];
    const last = roots.at(-1);
    if (last && also.length > 0) roots[roots.length - 1] = { ...last, terms: [...(last.terms ?? []), ...also] };
    return { terms: labels, tree: roots, ...(nested[1] ? { open: true as const, address: '/x/{term}' } : {}) };
  });

const plain: fc.Arbitrary<ModelDoc> = fc
  .tuple(fc.subarray([...typeNames], { minLength: 1 }), fc.subarray(['region', 'area']))
  .chain(([types, taxonomies]) =>
    fc.record({
      languages: fc.constantFrom(['en'], ['en', 'fr']),
      types: fc
        .tuple(
          ...types.map(() =>
            fc
              .record(
                {
                  about: fc.constantFrom('A light.', 'A person.'),
                  byline: fc.boolean(),
                  builtIn: fc
                    .constantFrom(...(['draft', 'published'] as const))
                    .map((status) => ({ status: { default: status } })),
                  versions: fc.boolean(),
                  previews: fc.constantFrom<Readonly<Record<string, Preview>>>(
                    { site: 'https://a.example/{id}' },
                    { site: { address: 'https://a.example/{id}', required: true }, print: { offered: false } },
                  ),
                },
                { requiredKeys: [] },
              )
              .chain((options) =>
                fc
                  .dictionary(fc.constantFrom(...fieldNames), field(types, taxonomies), {
                    maxKeys: 5,
                    noNullPrototype: true,
                  })
                  .map((fields) => ({ ...options, fields })),
              ),
          ),
        )
        .map((documents) => Object.fromEntries(types.map((name, index) => [name, documents[index] ?? { fields: {} }]))),
      taxonomies: fc
        .tuple(...taxonomies.map(() => tree))
        .map((documents) =>
          Object.fromEntries(taxonomies.map((name, index) => [name, documents[index] ?? { terms: {}, tree: [] }])),
        ),
    }),
  );

/** What is kept once and used in many types, said of a model that is whole without it. */
const shared: fc.Arbitrary<Shared> = fc.record(
  {
    kits: fc.constantFrom(
      { sharing: { fields: {} } },
      { sharing: { about: 'A kit.', fields: { a: { kind: 'text' } } } },
    ),
    kinds: fc.constantFrom(
      { price: { on: 'decimal', options: { unit: 'EUR' } } },
      { price: { on: 'decimal', options: {} } },
    ),
    types: fc.constantFrom(
      { tour: { kits: ['sharing'] } },
      { tour: { extends: 'keeper', origins: { name: { kind: 'price' } } } },
    ),
  },
  { requiredKeys: [] },
);

export const model: fc.Arbitrary<ModelDoc> = fc
  .tuple(
    plain,
    fc.option(shared, { nil: {} }),
    fc.constantFrom<true | 'published' | undefined>(true, 'published', undefined),
  )
  .map(([definition, parts, required]) => ({
    ...definition,
    ...(Object.keys(parts).length > 0 ? { shared: parts } : {}),
    ...(required && definition.languages.includes('fr')
      ? { languageOptions: { fr: { required, fallback: ['en'] } } }
      : {}),
  }));

/* ── entries ─────────────────────────────────────────────────────────────────────────────────────────────────── */

const words = fc.constantFrom(
  'Skerry Point',
  'a light',
  'Holm: Head',
  "keeper's",
  '# 1',
  '“quoted”',
  'été',
  'no',
  '12',
  '1858-10-01',
  '- dash',
  'x',
  'two words',
  'line\nbreak',
  'trailing ',
);

function single(definition: FieldDoc): fc.Arbitrary<Json> {
  switch (definition.kind) {
    case 'integer':
      return fc.integer({ min: -5, max: 200 });
    case 'decimal':
      return fc.constantFrom(0.5, 38.5, 12, -3);
    case 'boolean':
      return fc.boolean();
    case 'date':
      return fc.constantFrom('1858-10-01', '1902-02-28', '2026-01-01');
    case 'choice':
      return fc.constantFrom(...choices);
    case 'term':
      return fc.constantFrom(...terms);
    case 'json':
      return fc.constantFrom<Json>('x', { a: 1 }, [1, 'b']);
    case 'object':
      return fc.record(
        {
          note: words,
          remark: words,
          steps: fc.oneof(fc.integer({ min: 0, max: 9 }), words, fc.array(fc.integer({ max: 9 }), { maxLength: 2 })),
          stepCount: fc.integer({ min: 0, max: 9 }),
          pace: fc.constantFrom(...choices),
          inner: fc.oneof(innerValue, fc.array(innerValue, { maxLength: 2 })),
        },
        { requiredKeys: [], noNullPrototype: true },
      );
    case 'reference':
      return fc.constantFrom('keeper/ada-rook', 'lighthouse/skerry-point', 'ada-rook');
    default:
      return words;
  }
}

const innerValue = fc.record(
  { note: words, steps: fc.integer({ max: 9 }) },
  { requiredKeys: [], noNullPrototype: true },
);

const value = (definition: FieldDoc): fc.Arbitrary<Json> => {
  const inOneLanguage = definition.many ? fc.array(single(definition), { maxLength: 4 }) : single(definition);
  return definition.localized
    ? fc.record({ en: inOneLanguage, fr: inOneLanguage }, { requiredKeys: [], noNullPrototype: true })
    : inOneLanguage;
};

/** Some entries of a model; not all of them obey it, and callers keep those that do. */
export const entriesOf = (definition: ModelDoc): fc.Arbitrary<readonly Entry[]> =>
  fc
    .tuple(
      ...Object.entries(definition.types).map(([type, { fields }]) =>
        fc
          .array(
            fc.record(
              {
                status: fc.constantFrom<Json>('draft', 'published'),
                ...Object.fromEntries(Object.entries(fields).map(([name, one]) => [name, value(one)])),
              },
              { requiredKeys: [], noNullPrototype: true },
            ),
            { maxLength: 4 },
          )
          .map((all) =>
            all.map((values, index): Entry => ({ type, id: `${type}-${index}`, values: values as JsonObject })),
          ),
      ),
    )
    .map((groups) => groups.flat());

/** Models that differ inside one object alone, which may be there many times and in several languages. */
export const boxed: fc.Arbitrary<ModelDoc> = fc
  .tuple(inside, fc.constantFrom<JsonObject>({}, { many: true }, { localized: true }))
  .map(([fields, shape]) => {
    const { field: box } = readField({ kind: 'object', fields, ...shape });
    if (!box) throw new Error(`the generator made an object that cannot be read: ${JSON.stringify(fields)}`);
    return {
      languages: ['en', 'fr'],
      types: { lighthouse: { fields: { box, name: { kind: 'text' } } } },
      taxonomies: {},
    };
  });
