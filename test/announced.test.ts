import fc from 'fast-check';
import { beforeAll, describe, expect, test } from 'vitest';
import type { FieldDoc } from '../src/core/definition/field.ts';
import type { ModelDoc } from '../src/core/definition/model.ts';
import { compare } from '../src/core/diff/compare.ts';
import { addressOf, sayDifference } from '../src/core/diff/difference.ts';
import type { Entry } from '../src/core/entry/entry.ts';
import { migrateEntry, planMigration } from '../src/core/migration/plan.ts';
import { link, type Model } from '../src/core/model/link.ts';
import { readField } from '../src/core/model/readField.ts';
import { compact, equal, type JsonObject, withKey, withoutKey } from '../src/core/plain/json.ts';
import { loadConversion } from '../src/core/text/conversion.ts';
import { edited, errorsOf, findingsOf, obeying, type Sketch, sketch, wholeOf } from './support/anyModel.ts';
import { drafted, draftedWith, showAll } from './support/drafted.ts';
import { lumbrik, read, result, workspace, write } from './support/program.ts';

beforeAll(loadConversion);

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
  { kind: 'map', keys: { kind: 'text' }, value: { kind: 'text' } },
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
function withOptions(form: JsonObject, options: JsonObject): FieldDoc {
  let field: JsonObject = form;
  for (const [name, value] of Object.entries(options)) {
    const read = readField({ ...field, [name]: value });
    if (read.field && read.mistakes.length === 0) field = { ...field, [name]: value };
  }
  const { field: made, mistakes } = readField(field);
  if (!made) throw new Error(JSON.stringify(mistakes));
  return made;
}

const anyForm: fc.Arbitrary<FieldDoc> = fc.tuple(forms, beside).map(([form, options]) => withOptions(form, options));

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

const optionNames = ['many', 'unique', 'required', 'when', 'inverse', 'eligible', 'mayBeEmpty', 'to'];

/** A model, what becomes of it where one or two options of a field are others, and entries. */
const otherOptions = fc
  .tuple(
    sketch,
    fc.constantFrom('keeper', 'lighthouse', 'place'),
    fc.constantFrom('a', 'b'),
    forms,
    fc.tuple(beside, beside, fc.uniqueArray(fc.constantFrom(...optionNames), { minLength: 1, maxLength: 2 })),
  )
  .map(([base, type, name, form, [was, others, options]]) => {
    const formed = options.includes('to') ? { kind: 'reference', to: 'keeper' } : form;
    const is = options.reduce<JsonObject>((all, option) => {
      const value = option === 'to' ? ['keeper', 'lighthouse', 'place'] : others[option];
      return value === undefined ? withoutKey(all, option) : withKey(all, option, value);
    }, was);
    return [was, is].map((each) => withField(base, type, name, withOptions(formed, each)));
  })
  .map(([before, after]) => [wholeOf(before as Sketch), wholeOf(after as Sketch)] as const)
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

/** The types that a question is about: that of its address, those that extend it, and those that references there lead to. */
function typesAround(before: ModelDoc, after: ModelDoc, address: string): readonly string[] {
  const [type = '', field = ''] = address.split(/[.:]/u);
  const both = [before, after];
  // A language or a taxonomy is asked about for whoever uses it.
  if (both.every(({ types }) => types[type] === undefined)) return Object.keys({ ...before.types, ...after.types });
  const pointedAt = both.flatMap(({ types }) => [types[type]?.fields?.[field]?.to ?? []].flat().map(String));
  const around = [type, ...pointedAt];
  const extending = both.flatMap(({ shared }) =>
    Object.entries(shared?.types ?? {}).flatMap(([name, one]) => (around.includes(one.extends ?? '') ? [name] : [])),
  );
  return [...around, ...extending];
}

describe('counts before a migration are what it does [G3, G4, H3, I2]', () => {
  test('where fields take another form or go, as many entries change as were counted', () => {
    let counted = 0;
    fc.assert(
      fc.property(change, ([before, after, entries]) => {
        const { answered, impacts } = draftedWith(before, after, entries);
        const telling = impacts.filter(({ impact }) => impact !== undefined);
        const [only] = telling;
        if (!only || telling.length > 1 || answered.length !== 1) return;
        const { difference, impact } = only;
        if (difference.name !== 'field-reshaped' && difference.name !== 'field-removed') return;
        counted += 1;
        const was = new Map(entries.map((one) => [`${one.type}/${one.id}`, one.values]));
        const changed = migrated(answered, before, entries).filter(
          ({ type, id, values }) => !equal(compact(was.get(`${type}/${id}`) ?? {}), values),
        );
        expect([sayDifference(difference), changed.length]).toEqual([
          sayDifference(difference),
          impact?.changed ?? impact?.hits,
        ]);
      }),
      runs,
    );
    expect(counted).toBeGreaterThan(runs.numRuns / 20);
  });

  test('where options change, as many entries come to break them as were counted', () => {
    let counted = 0;
    fc.assert(
      fc.property(otherOptions, ([before, after, entries]) => {
        const { answered, impacts } = draftedWith(before, after, entries);
        if (impacts.length === 0 || impacts.some(({ difference }) => difference.name !== 'field-changed')) return;
        counted += 1;
        const found = findingsOf(link(after), migrated(answered, before, entries));
        const hit = (some: typeof found): number => new Set(some.map(({ entry }) => `${entry.type}/${entry.id}`)).size;
        const broken = impacts.map(({ impact }) =>
          impact?.isSettled === true || impact?.usual !== undefined ? 0 : (impact?.hits ?? 0),
        );
        const said = impacts.map(({ difference }) => sayDifference(difference));
        // What breaks only in drafts is a warning there; a rule between entries counts it, a bound of one value does not.
        const fewest = hit(found.filter(({ severity }) => severity === 'error'));
        const together = broken.reduce((sum, hits) => sum + hits, 0);
        expect([said, broken, 'errors', fewest]).toEqual([said, broken, 'errors', Math.min(fewest, together)]);
        const most = hit(found);
        if (impacts.length === 1) expect([said, broken]).toEqual([said, broken.map((hits) => Math.min(hits, most))]);
      }),
      runs,
    );
    expect(counted).toBeGreaterThan(runs.numRuns / 10);
  });

  test('errors that are left after every yes are where a question was about', () => {
    let asked = 0;
    fc.assert(
      fc.property(change, ([before, after, entries]) => {
        const { open, answered } = draftedWith(before, after, entries);
        const questions = open.filter((one) => one.open !== undefined);
        if (questions.length === 0) return;
        asked += 1;
        // One of several fields that are alike asks for all of them.
        const alike = open.filter(({ data }) => questions.some(({ address }) => address === data.like));
        // What is lost in one field can break a rule, a condition or a bound elsewhere in entries of the same type, and in those
        // that it leads to.
        const about = new Set([...questions, ...alike].flatMap(({ address }) => typesAround(before, after, address)));
        const left = errorsOf(link(after), migrated(answered, before, entries)).filter(
          ({ entry }) => !about.has(entry.type),
        );
        const said = questions.map((one) => one.open);
        expect([said, left.map(({ message, entry, path }) => [message, entry.type, path])]).toEqual([said, []]);
      }),
      runs,
    );
    expect(asked).toBeGreaterThan(runs.numRuns / 20);
  });
});

describe('what changes beside a change of kind or number is told, counted and asked [G3, G4]', () => {
  const era = {
    'model/types/era.yaml': 'type: era\nfields: { name: { kind: text } }\n',
    'content/era/e.yaml': 'name: E\n',
  };
  const pieces = Object.fromEntries(
    [1, 2, 3].map((n) => [`content/piece/p${n}.yaml`, `era: [e]\ncode: "0${n % 2}"\n`]),
  );
  const model = (fields: string): Record<string, string> => ({
    'model/types/piece.yaml': `type: piece\nfields:\n${fields}`,
  });

  test.each([
    [
      'a bound on the other side',
      '  era: { kind: reference, to: era, many: true, inverse: pieces }\n',
      '  era: { kind: reference, to: era, inverse: { name: pieces, max: 1 } }\n',
      2,
    ],
    ['unique values', '  code: { kind: text }\n', '  code: { kind: integer, unique: true }\n', 1],
    ['a condition', '  code: { kind: text }\n', '  code: { kind: integer, when: "false" }\n', 3],
  ])('%s', async (_what, was, is, hits) => {
    const other = was.includes('era')
      ? '  code: { kind: text }\n'
      : '  era: { kind: reference, to: era, many: true }\n';
    const folder = workspace({ ...era, ...pieces, ...model(was + other) });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, model(is + other));
    const { changes } = await result(folder, ['diff']);
    expect(changes).toMatchObject([
      { change: 'field-reshaped', impact: { hits: 0, changed: 3 } },
      { change: 'field-changed', impact: { hits } },
    ]);
    expect(await result(folder, ['migration', 'draft'])).toMatchObject({ openQuestions: 1 });
    await lumbrik(folder, ['migration', 'answer', '1', '--yes']);
    const rehearsed = await result(folder, ['migration', 'rehearse']);
    expect(rehearsed).toMatchObject({ changed: 3, errorsBefore: 0, errorsAfter: hits });
  });

  test('a condition that comes to a reference is counted for those that it no longer leads to', async () => {
    const fields = (more: string): Record<string, string> => ({
      'model/types/place.yaml': `type: place\nfields:\n  a: { kind: text }\n  b: { kind: reference, to: keeper, inverse: { name: others, min: 1 }${more} }\n`,
    });
    const folder = workspace({
      ...fields(''),
      'model/types/keeper.yaml': 'type: keeper\nfields: { name: { kind: text } }\n',
      'content/keeper/k.yaml': 'name: K\n',
      'content/place/p.yaml': 'b: k\n',
      'content/place/q.yaml': 'a: x\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, fields(', when: "has(entry.a)"'));
    const [change] = (await result(folder, ['diff'])).changes;
    expect(change.impact.hits).toBe(2);
    await lumbrik(folder, ['migration', 'draft']);
    await lumbrik(folder, ['migration', 'answer', '1', '--yes']);
    expect(await result(folder, ['migration', 'rehearse'])).toMatchObject({ errorsBefore: 0, errorsAfter: 2 });
  });

  test('what a draft was only warned of, and is an error by now, is counted', async () => {
    const note = (required: string): Record<string, string> => ({
      'model/types/note.yaml': `type: note\nfields:\n  a: { kind: text, required: ${required}, when: "!has(entry.b)" }\n  b: { kind: text }\n`,
    });
    const folder = workspace({ ...note('published'), 'content/note/a.yaml': 'status: draft\n' });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, note('true'));
    const [change] = (await result(folder, ['diff'])).changes;
    expect([change.impact.hits, change.entries]).toEqual([1, 'migrate']);
  });

  test('where there are no entries, nothing is claimed of them', async () => {
    const folder = workspace({ ...era, ...model('  code: { kind: text }\n') });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, model('  code: { kind: integer }\n'));
    const { steps } = await result(folder, ['migration', 'draft']);
    expect(steps[0].why).toBe('Text becomes integer; there are no entries.');
  });

  test('a diff knows what a draft has settled, and leads to its rehearsal', async () => {
    const folder = workspace({
      'model/types/note.yaml': 'type: note\ntitled: title\nfields:\n  title: { kind: text }\n',
      'content/note/e.yaml': 'title: E\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    await lumbrik(folder, ['rename', 'note.title', 'heading']);
    await lumbrik(folder, ['rename', 'note', 'page']);
    const before = await result(folder, ['diff']);
    await lumbrik(folder, ['migration', 'draft']);
    const after = await result(folder, ['diff']);
    expect(after.changes).toEqual(before.changes);
    expect(after.changes.map(({ change }: { change: string }) => change)).toEqual(['renamed', 'renamed']);
    expect((await lumbrik(folder, ['diff'])).out).toContain('lumbrik migration rehearse 1');
  });

  test('a diff knows what a draft was told to be no rename, until the call says otherwise', async () => {
    const note = (field: string): Record<string, string> => ({
      'model/types/note.yaml': `type: note\nfields:\n  ${field}: { kind: text }\n`,
    });
    const folder = workspace({ ...note('heading'), 'content/note/e.yaml': 'heading: x\n' });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, note('headline'));
    const changes = async (...args: readonly string[]): Promise<readonly string[]> =>
      (await result(folder, ['diff', ...args])).changes.map(({ change }: { change: string }) => change);
    expect(await changes()).toEqual(['renamed']);
    await lumbrik(folder, ['migration', 'draft', '--not-renamed', 'note.heading']);
    expect((await changes()).toSorted()).toEqual(['field-added', 'field-removed']);
    expect(await changes('--renamed', 'note.heading=headline')).toEqual(['renamed']);
  });
});

describe('each order of commands leads somewhere [H5, I8]', () => {
  test('a run, then an edit and a seal: the model between is known by the migration that led to it', async () => {
    const note = (fields: string): Record<string, string> => ({
      'model/types/note.yaml': `type: note\nfields:\n  ${fields}\n`,
    });
    const folder = workspace({ ...note('a: { kind: text }'), 'content/note/e.yaml': 'a: x\n' });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, note('b: { kind: text }'));
    await lumbrik(folder, ['migration', 'draft', '--renamed', 'note.a=b']);
    await lumbrik(folder, ['migration', 'rehearse']);
    await lumbrik(folder, ['migration', 'run']);
    write(folder, note('b: { kind: text, required: true, max: 20 }'));
    expect((await result(folder, ['check'])).standing).toMatchObject({ state: 'behind' });
    const sealed = await result(folder, ['seal', '-m', 'two']);
    // The rename is known, and nothing is called lost.
    expect([sealed.entries, sealed.standing.state]).toEqual(['migrate', 'behind']);
    expect((await lumbrik(folder, ['history'])).out).not.toContain('?');

    const drafted = await result(folder, ['migration', 'draft']);
    expect(drafted).toMatchObject({ from: 'the model that migrations/0001-rename-a.yaml leads to', to: 'revision 2' });
    expect((await result(folder, ['migration', 'rehearse'])).error).toBeUndefined();
    expect((await result(folder, ['migration', 'run'])).error).toBeUndefined();
    expect((await result(folder, ['check'])).standing).toEqual({ state: 'here', revision: 2 });
    // And all the way back.
    for (const _ of [1, 2]) expect((await result(folder, ['migration', 'undo'])).error).toBeUndefined();
    expect(read(folder, 'content/note/e.yaml')).toBe('a: x\n');
  });
});
