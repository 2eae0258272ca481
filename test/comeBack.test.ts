import fs from 'node:fs';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { usualFactKeys } from '../src/core/definition/builtIn.ts';
import type { StoreOptions } from '../src/core/definition/workspace.ts';
import type { Entry } from '../src/core/entry/entry.ts';
import { entryFormats } from '../src/core/export/entries/index.ts';
import { valuesOf } from '../src/core/export/entries/values.ts';
import { cellKindsOf } from '../src/core/model/cells.ts';
import { link, type Model } from '../src/core/model/link.ts';
import { equal, type Json } from '../src/core/plain/json.ts';
import { openStore } from '../src/stores/open.ts';
import { obeying, sketch, wholeOf } from './support/anyModel.ts';
import { lumbrik, read, result, temporary, workspace, write } from './support/program.ts';

/** The places that read each form back, for some types. */
const places: Readonly<Record<string, (types: readonly string[]) => readonly StoreOptions[]>> = {
  ndjson: () => [{ lines: ['content/all.ndjson'] }],
  json: () => [{ json: ['content/all.json'] }],
  csv: (types) => types.map((type) => ({ csv: [`content/all/${type}.csv`], type })),
  markdown: () => [{ folder: 'content/all' }],
};

/** Texts and other values that look like something else in one form or another. */
const awkward: fc.Arbitrary<Json> = fc.oneof(
  fc.constantFrom<Json>(
    '',
    ' ',
    ' a ',
    'a; b',
    '[1]',
    '[a',
    '{"a":1}',
    '12',
    'true',
    'null',
    '"x"',
    '1e3',
    '=1+1',
    '---',
    'a\nb',
    'a\r\nb',
    '# x',
    '~',
    null,
    [],
    [''],
    ['[1]'],
    ['a; b'],
    [1],
    ['1'],
    [[1]],
    {},
    { a: null },
    { 'a.b': 1 },
    0,
    -1.5,
    1e21,
    true,
  ),
  fc.jsonValue({ maxDepth: 2 }) as fc.Arbitrary<Json>,
);

/** Entries that obey a model, some with one value put in the place of another. */
const anyEntries = (model: Model): fc.Arbitrary<readonly Entry[]> =>
  fc
    .tuple(obeying(model), fc.array(fc.tuple(fc.nat(20), fc.nat(5), awkward), { maxLength: 12 }))
    .map(([entries, changes]) => {
      const all = entries.map((entry) => ({ ...entry }));
      for (const [at, field, value] of changes) {
        const entry = all[at % Math.max(1, all.length)];
        const type = model.types.get(entry?.type ?? '');
        const names = [...(type?.fields.values() ?? [])].filter((one) => one !== type?.body);
        const name = names[field % Math.max(1, names.length)]?.name;
        if (entry && name !== undefined) entry.values = { ...entry.values, [name]: value };
      }
      return all;
    });

/** Writes entries in a form, and reads them from there. @returns by address, with those of which something was left out. */
async function carried(form: string, model: Model, entries: readonly Entry[]) {
  const format = entryFormats.find(({ name }) => name === form);
  if (!format) throw new Error(form);
  const root = temporary();
  const types = [...model.types.values()];
  const lost = new Set<string>();
  const files = new Map<string, string>();
  const { begin, put, finish } = format.writing({ workspace: 'W', model, types, factKeys: [usualFactKeys], call: 'x' });
  const pieces = entries.flatMap((entry) => {
    const key = `${entry.type}/${entry.id}`;
    const out = { ...entry, values: valuesOf(entry, model.types.get(entry.type)), stored: entry };
    return put(
      out,
      () => lost.add(key),
      () => undefined,
    );
  });
  for (const { entry: of, ending, text } of [begin?.() ?? [], ...pieces, ...(finish?.() ?? [])].flat()) {
    const file = of
      ? `all/${of.type}${of.id === undefined ? '' : `/${encodeURIComponent(of.id)}`}${ending}`
      : `all${ending}`;
    files.set(file, (files.get(file) ?? '') + text);
  }
  for (const [file, text] of files) write(root, { [`content/${file}`]: text });
  const content =
    places[form]?.(types.map(({ name }) => name).filter((name) => form !== 'csv' || files.has(`all/${name}.csv`))) ??
    [];
  const store = openStore({ root, content, cells: cellKindsOf(model) });
  const back = new Map<string, Json>();
  for (const part of await store.parts(1))
    for await (const item of store.read(part)) {
      if (!('entry' in item)) throw new Error(JSON.stringify(item));
      back.set(
        `${item.entry.type}/${decodeURIComponent(item.entry.id)}`,
        valuesOf(item.entry, model.types.get(item.entry.type)),
      );
    }
  fs.rmSync(root, { recursive: true });
  return { back, lost };
}

describe('entries of any model go out and come in again as they were, or what does not is named [K8]', () => {
  test.each(Object.keys(places))('as %s', async (form) => {
    const given = sketch
      .map((one) => link(wholeOf(one)))
      // A table of one type is one file elsewhere.
      .filter(({ types }) => types.size > 1)
      .chain((model) => fc.tuple(fc.constant(model), anyEntries(model)));
    await fc.assert(
      fc.asyncProperty(given, async ([model, entries]) => {
        if (entries.length === 0) return;
        const { back, lost } = await carried(form, model, entries);
        for (const entry of entries) {
          const key = `${entry.type}/${entry.id}`;
          const was = valuesOf(entry, model.types.get(entry.type));
          if (!lost.has(key) && !equal(back.get(key), was)) expect([key, back.get(key)]).toEqual([key, was]);
        }
      }),
      { numRuns: Number(process.env.RUNS ?? 150) },
    );
  });
});

describe('cells that a spreadsheet would compute [M2]', () => {
  const model = {
    'model/types/light.yaml': 'type: light\nfields:\n  name: { kind: text }\n  height: { kind: decimal }\n',
  };
  const entries = {
    'content/light/a.yaml': 'name: "=HYPERLINK(\\"http://x.example\\")"\nheight: -4.5\n',
    'content/light/b.yaml': 'name: "@home"\n',
    'content/light/c.yaml': 'name: "-1"\n',
  };

  test('are named, and have an apostrophe before them where that is asked for', async () => {
    const folder = workspace({ ...model, ...entries });
    const plain = await lumbrik(folder, ['export', 'entries', 'light', '--as', 'csv']);
    expect(plain.out).toContain('"=HYPERLINK(""http://x.example"")"');
    expect(plain.err).toContain('Spreadsheets compute cells that begin like these');
    expect(plain.err).toContain('--guard');
    const guarded = await result(folder, ['export', 'entries', 'light', '--as', 'csv', '--guard', '--out', 'x.csv']);
    expect(guarded.warnings).toEqual([]);
    expect(guarded.lost).toMatchObject([{ entries: 2 }]);
    expect(read(folder, 'x.csv').split('\n').slice(1, 4)).toEqual([
      `a,,,,,,"'=HYPERLINK(""http://x.example"")",-4.5`,
      `b,,,,,,'@home,`,
      'c,,,,,,-1,',
    ]);
    expect((await lumbrik(folder, ['list', 'light', '--format', 'csv'])).err).toContain('2 cells begin with');
    expect((await lumbrik(folder, ['list', 'light', '--format', 'markdown'])).err).toBe('');
  });
});
