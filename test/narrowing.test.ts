import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { checkField } from '../src/core/check/field.ts';
import type { FieldDoc } from '../src/core/definition/field.ts';
import { link, linkField } from '../src/core/model/link.ts';
import { readField } from '../src/core/model/readField.ts';
import type { Json, JsonObject } from '../src/core/plain/json.ts';

const { context } = link({ languages: ['en'], types: {}, taxonomies: {} });

const definition = (data: JsonObject): FieldDoc => {
  const { field, mistakes } = readField(data);
  if (!field) throw new Error(JSON.stringify(mistakes));
  return field;
};

/** Whether a value obeys a field at some status. */
function obeys(definition: FieldDoc, value: Json, status: 'draft' | 'published'): boolean {
  const field = linkField({ type: 'light' }, 'x', definition);
  if (!field) throw new Error('the field cannot be linked');
  let isFine = true;
  checkField(field, context)(value, status, (_path, { severity }) => {
    if (severity === 'error') isFine = false;
  });
  return isFine;
}

const bounds = fc.record(
  { min: fc.integer({ min: 0, max: 8 }), max: fc.integer({ min: 8, max: 20 }) },
  { requiredKeys: [] },
) as fc.Arbitrary<JsonObject>;
const some = <T>(options: Record<string, fc.Arbitrary<T>>) =>
  fc.record(options, { requiredKeys: [], noNullPrototype: true }) as fc.Arbitrary<JsonObject>;

/** Kinds with options to put over them, and values around their limits. */
const cases = {
  text: { options: bounds, values: fc.string({ maxLength: 24 }) },
  integer: { options: bounds, values: fc.integer({ min: -3, max: 24 }) },
  decimal: {
    options: some<Json>({
      min: fc.integer({ min: 0, max: 8 }),
      max: fc.integer({ min: 9, max: 20 }),
      places: fc.integer({ min: 0, max: 3 }),
    }),
    values: fc.constantFrom(0, 1.5, 2.25, 8.125, 12.0625, 21),
  },
  choice: {
    options: fc.subarray(['easy', 'moderate', 'hard'], { minLength: 1 }).map((choices) => ({ choices })),
    values: fc.constantFrom('easy', 'moderate', 'hard', 'no'),
  },
  date: {
    options: some<Json>({
      min: fc.constantFrom('1700-01-01', '1800-01-01'),
      max: fc.constantFrom('1900-01-01', '2000-01-01'),
    }),
    values: fc.constantFrom('1699-12-31', '1750-06-01', '1850-06-01', '1950-06-01', '2001-01-01'),
  },
  webAddress: {
    options: some<Json>({
      schemes: fc.subarray(['https', 'http', 'ftp'], { minLength: 1 }),
      hosts: fc.subarray(['a.example', 'b.example'], { minLength: 1 }),
    }),
    values: fc.constantFrom('https://a.example', 'http://b.example', 'ftp://a.example', 'https://c.example'),
  },
  asset: {
    options: some<Json>({
      maxSize: fc.integer({ min: 1, max: 9 }),
      alt: fc.constantFrom('required', 'published', 'optional'),
    }),
    values: fc.constantFrom<Json>('a.png', { file: 'a.png', alt: 'A' }, { file: 'a.png' }, 'https://a'),
  },
} as const satisfies Record<string, { options: fc.Arbitrary<JsonObject>; values: fc.Arbitrary<Json> }>;

const common = some<Json>({
  required: fc.constantFrom<Json>(true, 'published', false),
  unique: fc.boolean(),
  help: fc.constantFrom('A.', 'B.'),
  many: fc.constantFrom<Json>({ max: 3 }, { min: 1, max: 2 }, { max: 2 }),
});

describe('what uses something shared can only narrow it [C9]', () => {
  test.each(Object.keys(cases) as (keyof typeof cases)[])(
    '%s: whatever obeys the use obeys the shared field too',
    (kind) => {
      const { options, values } = cases[kind];
      let narrowed = 0;
      let refused = 0;
      fc.assert(
        fc.property(
          options,
          options,
          common,
          common,
          fc.array(values as fc.Arbitrary<Json>, { minLength: 1, maxLength: 4 }),
          fc.constantFrom('draft' as const, 'published' as const),
          (own, over, ownCommon, overCommon, items, status) => {
            const base = definition({ kind, ...own, ...ownCommon });
            const { field, mistakes } = readField({ ...over, ...overCommon }, undefined, {
              definition: base,
              from: 'the kit sharing',
            });
            if (!field) {
              refused += 1;
              expect(mistakes.length).toBeGreaterThan(0);
              return;
            }
            narrowed += 1;
            expect(field.kind).toBe(base.kind);
            expect(Boolean(field.many)).toBe(Boolean(base.many));
            for (const value of base.many ? [items, items.slice(0, 1), []] : [...items, null])
              if (obeys(field, value as Json, status))
                expect([base, field, value, obeys(base, value as Json, status)]).toEqual([base, field, value, true]);
          },
        ),
        { numRuns: 600 },
      );
      // Both happen often enough for the property to mean something.
      expect([narrowed > 20, refused > 20]).toEqual([true, true]);
    },
  );
});
