import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { FieldDoc } from '../src/core/definition/field.ts';
import { compare } from '../src/core/diff/compare.ts';
import { addressOf, sayDifference } from '../src/core/diff/difference.ts';
import type { Entry } from '../src/core/entry/entry.ts';
import { migrateEntry, planMigration } from '../src/core/migration/plan.ts';
import { link, type Model } from '../src/core/model/link.ts';
import { readField } from '../src/core/model/readField.ts';
import { compact, type JsonObject } from '../src/core/plain/json.ts';
import { edited, errorsOf, obeying, type Sketch, sketch, wholeOf } from './support/anyModel.ts';
import { drafted, showAll } from './support/drafted.ts';

const runs = { numRuns: Number(process.env.RUNS ?? 300) };

/** Forms between which values can be carried, so that what changes beside them matters. */
const forms = fc.constantFrom<JsonObject>(
  { kind: 'text' },
  { kind: 'longText' },
  { kind: 'integer' },
  { kind: 'decimal' },
  { kind: 'boolean' },
  { kind: 'choice', choices: ['a', '1'] },
  { kind: 'term', taxonomy: 'region' },
  { kind: 'reference', to: 'keeper' },
  { kind: 'reference', to: ['keeper', 'lighthouse'] },
  { kind: 'object', fields: { x: { kind: 'text' } } },
  { kind: 'map', keys: 'text', values: { kind: 'text' } },
);

/** Options that may come together with another form. */
const beside = fc
  .record(
    {
      many: fc.constantFrom<JsonObject[string]>(true, { max: 2 }, { orOne: true }, { distinct: true }, { min: 1 }),
      unique: fc.constant(true),
      required: fc.constantFrom<JsonObject[string]>(true, 'published'),
      when: fc.constantFrom('has(entry.a)', '!has(entry.b)', 'entry.status == "published"'),
      inverse: fc.constantFrom<JsonObject[string]>('others', { name: 'others', max: 1 }, { name: 'others', min: 1 }),
      eligible: fc.constant('target.status == "published"'),
      mayBeEmpty: fc.constant(true),
      localized: fc.constant(true),
    },
    { requiredKeys: [], noNullPrototype: true },
  )
  .map((one) => one as JsonObject);

/** A field of some form with options beside, as far as they go together. */
const anyForm: fc.Arbitrary<FieldDoc> = fc.tuple(forms, beside).map(([form, options]) => {
  let field: JsonObject = form;
  for (const [name, value] of Object.entries(options)) {
    const read = readField({ ...field, [name]: value });
    if (read.field && read.mistakes.length === 0) field = { ...field, [name]: value };
  }
  return readField(field).field ?? { kind: 'text' };
});

const withField = (from: Sketch, type: string, name: string, field: FieldDoc): Sketch => ({
  ...from,
  types: {
    ...from.types,
    [type]: {
      ...(from.types[type] ?? { extends: undefined, options: {} }),
      fields: { ...from.types[type]?.fields, [name]: field },
    },
  },
});

/** A model, what becomes of it where one field takes another form with other options and one more thing changes, and entries. */
const change = fc
  .tuple(
    sketch,
    fc.constantFrom('keeper', 'lighthouse', 'place', 'tour'),
    fc.constantFrom('a', 'b', 'c'),
    anyForm,
    anyForm,
  )
  .chain(([base, type, name, was, is]) => {
    const before = withField(base, type, name, was);
    return fc.tuple(
      fc.constant(before),
      fc.oneof(fc.constant(before), edited(before)).map((one) => withField(one, type, name, is)),
    );
  })
  .map(([before, after]) => [wholeOf(before), wholeOf(after)] as const)
  .chain(([before, after]) => fc.tuple(fc.constant(before), fc.constant(after), obeying(link(before))));

/** What entries are after a migration, as far as they are there. */
function migrated(steps: ReturnType<typeof drafted>, before: Parameters<typeof drafted>[0], entries: readonly Entry[]) {
  const planned = planMigration(steps, before);
  if ('problem' in planned) throw new Error(JSON.stringify(planned.problem));
  showAll(planned.value, entries);
  return entries.flatMap((entry): readonly Entry[] => {
    const { draft } = migrateEntry(planned.value, entry);
    const { status } = entry.values;
    return draft.isDeleted
      ? []
      : [{ type: draft.type, id: draft.id, values: compact({ status, ...draft.fields }) as JsonObject }];
  });
}

const errorsIn = (model: Model, entries: readonly Entry[]) =>
  errorsOf(model, entries).map(({ message, entry, path }) => [message, `${entry.type}/${entry.id}`, path]);

describe('errors after a migration were announced by a question [G3, G4, H3]', () => {
  test('a draft that asks nothing leaves none, whatever changes together', () => {
    let askedNothing = 0;
    fc.assert(
      fc.property(change, ([before, after, entries]) => {
        const steps = drafted(before, after, entries);
        if (steps.length === 0 || steps.some(({ open }) => open !== undefined)) return;
        askedNothing += 1;
        const { differences } = compare(before, after);
        const said = differences.map((one) => `${addressOf(one)}: ${sayDifference(one)}`);
        expect([said, errorsIn(link(after), migrated(steps, before, entries))]).toEqual([said, []]);
      }),
      runs,
    );
    expect(askedNothing).toBeGreaterThan(runs.numRuns / 20);
  });
});
