import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { compile } from '../src/core/check/compile.ts';
import { inHashedForm } from '../src/core/definition/earlierForm.ts';
import { asJson, type ModelDoc } from '../src/core/definition/model.ts';
import { compare } from '../src/core/diff/compare.ts';
import { keyOf } from '../src/core/entry/entry.ts';
import { firstDivergence, migrateEntry, planMigration } from '../src/core/migration/plan.ts';
import { RoundTrip } from '../src/core/migration/roundTrip.ts';
import { link } from '../src/core/model/link.ts';
import type { Path } from '../src/core/plain/json.ts';
import { canonical, hashModel, hashText } from '../src/core/revision/canonical.ts';
import { makeRevision, readRevision, revisionText } from '../src/core/revision/chain.ts';
import { drafted, showAll } from './support/drafted.ts';
import { boxed, entriesOf, model } from './support/models.ts';

const runs = { numRuns: Number(process.env.RUNS ?? 250) };

/** Whether a path into an entry leads to what an address names, or into it, through whatever languages and lists. */
function isAbout(address: string, type: string, path: Path): boolean {
  // Which entries become ones of another type is asked with all that they lack there.
  if (address === `to ${type}`) return true;
  const [about, field, ...inner] = address.split('.');
  // A language that is new, and required, is asked for once, whatever fields lack it.
  if (address === 'languages') return path.length > 1 && /^(en|fr)$/u.test(String(path.at(-1)));
  return about === type && path[0] === field && inner.every((key) => path.includes(key));
}

test('a type that would extend itself after a rename that seems to be one goes round no circle', () => {
  const before: ModelDoc = {
    languages: ['en'],
    types: { keeper: { fields: { name: { kind: 'text' } } } },
    taxonomies: {},
    shared: { types: { tour: { extends: 'keeper', origins: { name: { kind: 'price' } } } } },
  };
  const after: ModelDoc = {
    languages: ['en'],
    types: { tour: { fields: { name: { kind: 'text' } } } },
    taxonomies: {},
  };
  expect(compare(before, after).renames.map(({ rename }) => rename.what)).toEqual(['type']);
});

test('the model of a revision that was read has the hash that it had, whatever stands around it', () => {
  const words = fc.oneof(fc.string(), fc.constantFrom(',"model":', '{"model":{}},"previous":null', '"'));
  fc.assert(
    fc.property(model, words, words, (one, message, about) => {
      const [name = ''] = Object.keys(one.types);
      const definition = {
        ...one,
        types: { ...one.types, ...(one.types[name] && about !== '' ? { [name]: { ...one.types[name], about } } : {}) },
      } as ModelDoc;
      const parts = { revision: 1, version: '1.0.0', date: '2026-03-01T00:00:00Z', previous: null };
      const read = readRevision(revisionText(makeRevision({ ...parts, message, model: definition })));
      if (!read) throw new Error('a revision that was made cannot be read');
      expect(hashModel(read.model)).toBe(hashText(canonical(inHashedForm(read.model))));
      expect(hashModel(read.model)).toBe(hashModel(definition));
    }),
    runs,
  );
});

describe.each([
  ['of models', model],
  ['inside objects', boxed],
])('a drafted migration %s [H1, H4]', (_of, model) => {
  test('leads from any model to any other, exactly', () => {
    fc.assert(
      fc.property(model, model, (before, after) => {
        const planned = planMigration(drafted(before, after, []), before);
        if ('problem' in planned) throw new Error(JSON.stringify(planned.problem));
        const reached = planned.value.after.definition;
        expect(firstDivergence(reached, after)).toBeUndefined();
        expect(hashModel(reached)).toBe(hashModel(after));
      }),
      runs,
    );
  });

  const pair = fc
    .tuple(model, model)
    .chain(([before, after]) => fc.tuple(fc.constant(before), fc.constant(after), entriesOf(before)));

  test('has an inverse: the steps back lead to the older model, and entries are what they were but for what is named', () => {
    fc.assert(
      fc.property(pair, ([before, after, all]) => {
        const old = compile(link(before));
        const entries = all.filter((entry) => old.check(entry).findings.length === 0);
        const steps = drafted(before, after, entries);
        const planned = planMigration(steps, before);
        if ('problem' in planned) throw new Error(JSON.stringify(planned.problem));
        showAll(planned.value, entries);
        const wayBack = new RoundTrip(steps, planned.value);
        const migrated = entries.map((entry) => ({ entry, is: migrateEntry(planned.value, entry) }));
        for (const { is } of migrated) wayBack.see(is);
        for (const round of wayBack.seen()) {
          for (const { is } of migrated) wayBack.show(round, is);
          wayBack.shown(round);
        }
        expect(firstDivergence(wayBack.plan.after.definition, before)).toBeUndefined();
        for (const { entry, is } of migrated) {
          const { wrong } = wayBack.takeBack(entry, is);
          expect(wrong, `${keyOf(entry)} ${JSON.stringify(entry.values)}`).toEqual([]);
        }
      }),
      runs,
    );
  });

  test('leaves entries that obeyed the old model obeying the new one, or asks', () => {
    fc.assert(
      fc.property(pair, ([before, after, all]) => {
        const old = compile(link(before));
        const entries = all.filter((entry) => old.check(entry).findings.length === 0);
        const steps = drafted(before, after, entries);
        const planned = planMigration(steps, before);
        if ('problem' in planned) throw new Error(JSON.stringify(planned.problem));
        const checker = compile(link(after));
        // What comes from elsewhere is asked about where it comes from.
        const asked = steps.flatMap(({ open, address, data }) =>
          open === undefined
            ? []
            : [
                address,
                ...(typeof data.to === 'string' ? [data.to, ...('send' in data ? [`to ${data.to}`] : [])] : []),
              ],
        );
        showAll(planned.value, entries);
        for (const entry of entries) {
          const { draft } = migrateEntry(planned.value, entry);
          if (draft.isDeleted) continue;
          const { status } = entry.values;
          const now = {
            type: draft.type,
            id: draft.id,
            values: { ...(status === undefined ? {} : { status }), ...draft.fields },
          };
          const errors = checker.check(now).findings.filter(({ severity }) => severity === 'error');
          // What is asked of a term that goes is asked of all values that have it.
          const losesTerm = asked.some(
            (one) => one.includes(':') && draft.losses.some(({ value }) => one.endsWith(`:${value}`)),
          );
          const unasked = errors.filter(
            ({ path, finding }) =>
              !asked.some((one) => isAbout(one, now.type, path)) &&
              finding !== 'unknown-term' &&
              !(losesTerm && finding === 'required-missing'),
          );
          expect(unasked, `${keyOf(entry)} ${JSON.stringify(now.values)}`).toEqual([]);
          if (errors.some(({ finding }) => finding === 'unknown-term')) expect(asked.length).toBeGreaterThan(0);
        }
      }),
      runs,
    );
  });
});

describe('the canonical form of a model [A3, G1]', () => {
  test('does not change with the order of keys', () => {
    const reversed = (value: unknown): unknown => {
      if (Array.isArray(value)) return value.map(reversed);
      if (typeof value !== 'object' || value === null) return value;
      return Object.fromEntries(
        Object.entries(value)
          .reverse()
          .map(([key, inner]) => [key, reversed(inner)]),
      );
    };
    fc.assert(
      fc.property(model, (definition) => {
        const other = reversed(definition) as ModelDoc;
        expect(canonical(asJson(other))).toBe(canonical(asJson(definition)));
        expect(compare(definition, other).differences).toEqual([]);
      }),
      runs,
    );
  });
});

describe('a comparison [G1, G2]', () => {
  test('of a model with itself finds nothing, and every difference goes away with its step', () => {
    fc.assert(
      fc.property(model, model, (before, after) => {
        expect(compare(before, before).differences).toEqual([]);
        const { differences } = compare(before, after);
        expect(differences.length === 0).toBe(hashModel(before) === hashModel(after));
      }),
      runs,
    );
  });
});
