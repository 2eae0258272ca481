import fs from 'node:fs';
import path from 'node:path';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { JsonObject } from '../src/core/plain/json.ts';
import { flattened, nested } from '../src/stores/table/cells.ts';
import { edit, lumbrik, read, result, snapshot, workspace, write } from './support/program.ts';

const model = {
  'model/types/wine.yaml':
    'type: wine\nfields:\n  name: { kind: longText, required: true, localized: true }\n  year: { kind: integer, min: 1900 }\n  dry: { kind: boolean }\n  price: { kind: decimal }\n  grapes: { kind: text, many: true }\n  maker: { kind: reference, to: maker }\n  site: { kind: object, fields: { town: { kind: text }, height: { kind: integer } } }\n  cellar: { kind: text }\n',
  'model/types/maker.yaml': 'type: maker\nfields: { name: { kind: text }, code: { kind: text } }\n',
};
const wines =
  'No;name.de;name.fr;year;dry;price;grapes;maker;site.town;site.height;cellar\r\nw-1;"Alte Reben; Réserve";Vieilles vignes;2019;true;12.50;Riesling | Silvaner;m;"Bergweg ""oben""";210;A3\r\nw-2;Zweiter;;2007;FALSE;9.80;Merlot;m;;;B1\r\n\r\nw-3;"Dritter\nauf zwei Zeilen";;2020;false;7;;;;;';
const content = {
  'lumbrik.yaml':
    'workspace: Cellar\nlanguages: [de, fr]\ncontent:\n  - { csv: content/wines.csv, type: wine, keys: { id: No } }\n  - { csv: content/makers.tsv, type: maker }\n',
  'content/wines.csv': wines,
  'content/makers.tsv': 'id\tname\tcode\nm\tMax Muster\t01234\n',
};

describe('tables [K3]', () => {
  test('are read as the model means them', async () => {
    const folder = workspace({ ...model, ...content });
    expect(await result(folder, ['check'])).toMatchObject({ ok: true, entries: 4, findings: [] });
    const { out } = await lumbrik(folder, ['show', 'wine/w-1']);
    expect(out).toContain('de: Alte Reben; Réserve · fr: Vieilles vignes');
    expect(out).toContain('Riesling, Silvaner');
    expect(out).toContain('town Bergweg "oben", height 210');
    // A code with a nought in front is a text, and stays one.
    expect((await result(folder, ['try', 'entry.code == "01234"', 'maker/m'])).rows).toEqual([
      { entry: 'maker/m', value: true },
    ]);
  });

  test('tell what is wrong where it stands', async () => {
    const bad =
      wines.replace('2007;FALSE;9.80', '20x7;nein;"9,80"').replace('Merlot;m', 'Merlot;n') +
      '\r\n;Ohne;;;\r\nw-9;a;b;1;true;1;c;m;d;2;e;zu viel\r\n';
    const { findings } = await result(workspace({ ...model, ...content, 'content/wines.csv': bad }), ['check']);
    const places = findings.map(({ finding, line, column }: { finding: string; line: number; column: number }) => [
      finding,
      line,
      column,
    ]);
    expect(places).toEqual([
      ['wrong-shape', 3, 14],
      ['wrong-shape', 3, 19],
      ['wrong-shape', 3, 24],
      ['dangling-reference', 3, 38],
      ['unreadable-file', 7, 1],
      ['unreadable-file', 8, 1],
    ]);
  });

  test('go through a migration: what does not change stays as it is written, and undo brings every byte back', async () => {
    const folder = workspace({ ...model, ...content });
    await lumbrik(folder, ['seal', '-m', 'one']);
    for (const [from, to] of [
      ['  name:', '  title:'],
      ['  year: { kind: integer, min: 1900 }', '  vintage: { kind: text }'],
      ['  dry: { kind: boolean }\n', ''],
      ['maker: { kind: reference, to: maker }', 'maker: { kind: reference, to: maker, many: true }'],
      ['height: { kind: integer }', 'metres: { kind: integer }'],
      ['  cellar: { kind: text }\n', '  cellar: { kind: text }\n  land: { kind: text, required: true }\n'],
    ] as const)
      edit(folder, 'model/types/wine.yaml', from, to);
    const before = snapshot(path.join(folder, 'content'));
    await lumbrik(folder, [
      'migration',
      'draft',
      '--renamed',
      'wine.name=title',
      '--renamed',
      'wine.year=vintage',
      '--renamed',
      'wine.site.height=metres',
    ]);
    const { steps } = await result(folder, ['migration', 'show']);
    const stepOf = (address: string) =>
      String(
        steps.find((one: { address: string; open?: string }) => one.address === address && one.open !== undefined)
          ?.step,
      );
    await lumbrik(folder, ['migration', 'answer', '--step', stepOf('wine.land'), '--value', '"Baden; DE"']);
    await lumbrik(folder, ['migration', 'answer', '--step', stepOf('wine.dry'), '--yes']);
    expect(await result(folder, ['migration', 'rehearse'])).toMatchObject({ ok: true, changed: 3, files: 1 });
    expect((await lumbrik(folder, ['migration', 'run'])).code).toBe(0);
    expect(read(folder, 'content/wines.csv')).toBe(
      wines
        .replace('name.de;name.fr;year;dry;', 'title.de;title.fr;vintage;')
        .replace('site.height;cellar', 'site.metres;cellar;land')
        .replace('2019;true;', '2019;')
        .replace('2007;FALSE;', '2007;')
        .replace('2020;false;', '2020;')
        .replace('210;A3', '210;A3;"Baden; DE"')
        .replace(';B1', ';B1;"Baden; DE"')
        .replace(/;;;;;$/u, ';;;;;;"Baden; DE"'),
    );
    expect(await result(folder, ['check'])).toMatchObject({ ok: true, findings: [] });
    expect((await lumbrik(folder, ['migration', 'undo'])).code).toBe(0);
    expect(snapshot(path.join(folder, 'content'))).toEqual(before);
  });

  test('edits since a run are named and not lost unasked; the file is what it was, where they may be', async () => {
    const folder = workspace({ ...model, ...content, 'content/all.json': '[{"id":"z","name":"Z"}]' });
    write(folder, { 'lumbrik.yaml': `${read(folder, 'lumbrik.yaml')}  - { json: content/all.json, type: maker }\n` });
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/types/maker.yaml', 'name:', 'label:');
    edit(folder, 'model/types/wine.yaml', 'cellar:', 'place:');
    const before = snapshot(path.join(folder, 'content'));
    for (const args of [
      ['draft', '--renamed', 'maker.name=label', '--renamed', 'wine.cellar=place'],
      ['rehearse'],
      ['run'],
    ])
      expect((await lumbrik(folder, ['migration', ...args])).code).toBe(0);
    edit(folder, 'content/wines.csv', 'Zweiter', 'Anderer');
    edit(folder, 'content/all.json', '"Z"', '"Y"');
    const edited = snapshot(path.join(folder, 'content'));
    const refused = await result(folder, ['migration', 'undo']);
    expect([refused.code, refused.error.code, refused.error.also.length]).toEqual([3, 'edits-would-be-lost', 2]);
    expect(snapshot(path.join(folder, 'content'))).toEqual(edited);
    expect((await lumbrik(folder, ['migration', 'undo', '--partly'])).code).toBe(0);
    expect(snapshot(path.join(folder, 'content'))).toEqual(before);
  });

  test('are mended, cell by cell', async () => {
    const folder = workspace({
      ...model,
      ...content,
      'content/wines.csv': wines.replace('Merlot;m;', 'Merlot;"n";').replace('Silvaner;m', 'Silvaner;mx'),
    });
    write(folder, { 'content/makers.tsv': 'id\tname\tcode\nmaker-long\tMax Muster\t01234\r\n' });
    edit(folder, 'content/wines.csv', 'Silvaner;mx', 'Silvaner;makerlong');
    await lumbrik(folder, ['check', '--fix', '--yes']);
    expect(read(folder, 'content/wines.csv')).toContain('Silvaner;maker-long;"Bergweg ""oben"""');
    expect(read(folder, 'content/wines.csv')).toContain('Merlot;"n";');
  });

  test('keep their encoding, and refuse what it has no character for', async () => {
    const folder = workspace({ ...model, ...content, 'content/wines.csv': Buffer.from(wines, 'latin1') });
    const settings = read(folder, 'lumbrik.yaml');
    const { findings } = await result(folder, ['check']);
    expect(findings[0]).toMatchObject({
      finding: 'unreadable-file',
      line: 2,
      mend: 'Save it as UTF-8, or say what it is in: `encoding: windows-1252`.',
    });
    write(folder, { 'lumbrik.yaml': settings.replace('type: wine,', 'type: wine, encoding: windows-1252,') });
    expect(await result(folder, ['check'])).toMatchObject({ ok: true });
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(
      folder,
      'model/types/wine.yaml',
      '  cellar: { kind: text }\n',
      '  cellar: { kind: text }\n  land: { kind: text, required: true }\n',
    );
    await lumbrik(folder, ['migration', 'draft']);
    await lumbrik(folder, ['migration', 'answer', '--step', '1', '--value', '"日本"']);
    await lumbrik(folder, ['migration', 'rehearse']);
    expect((await result(folder, ['migration', 'run'])).error.code).toBe('encoding');
    expect(fs.readFileSync(path.join(folder, 'content/wines.csv'))).toEqual(Buffer.from(wines, 'latin1'));
  });

  test.each([
    ['No;name.de\nw-1;"open\n', 'opens a quote and never closes it', 2],
    ['No;name.de\nw-1;"a" b\n', 'has characters behind a closing quote', 2],
    ['No;year;year\nw-1;1;2\n', 'names the column `year` twice', 1],
    ['name.de;year\nA;1\n', 'has no column `No`, which holds the identifiers', 1],
    ['', 'is empty', 1],
    [Buffer.from('\uFEFFNo;name.de\nw;A\n', 'utf16le'), 'is in UTF-16', 1],
  ])('%j is told as no table', async (text, says, line) => {
    const { findings } = await result(workspace({ ...model, ...content, 'content/wines.csv': text }), ['check']);
    expect(findings[0]).toMatchObject({ finding: 'unreadable-file', line });
    expect(findings[0].says).toContain(says);
  });
});

describe('entries in a list or a map of a file of JSON [K3]', () => {
  const settings = {
    ...model,
    'lumbrik.yaml':
      'workspace: Cellar\nlanguages: [de]\ncontent: [{ json: content/all.json, at: data.makers, type: maker }]\n',
  };
  const list =
    '{\n  "data": {\n    "makers": [\n      { "id": "a", "name": "A", "cod": "x" },\n      {\n        "id": "b",\n        "name": 7\n      }\n    ]\n  },\n  "more": [1]\n}\n';

  test('are checked, mended and migrated where they stand', async () => {
    const folder = workspace({ ...settings, 'content/all.json': list });
    const { findings } = await result(folder, ['check']);
    expect(
      findings.map(({ finding, line, column }: { finding: string; line: number; column: number }) => [
        finding,
        line,
        column,
      ]),
    ).toEqual([
      ['unknown-field', 4, 40],
      ['wrong-shape', 7, 17],
    ]);
    await lumbrik(folder, ['check', '--fix', '--yes']);
    expect(read(folder, 'content/all.json')).toBe(list.replace('"cod"', '"code"'));
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/types/maker.yaml', 'name:', 'label:');
    await lumbrik(folder, ['migration', 'draft', '--renamed', 'maker.name=label']);
    await lumbrik(folder, ['migration', 'rehearse']);
    await lumbrik(folder, ['migration', 'run']);
    expect(read(folder, 'content/all.json')).toBe(list.replace('"cod"', '"code"').replaceAll('"name"', '"label"'));
    await lumbrik(folder, ['migration', 'undo']);
    await lumbrik(folder, ['migration', 'undo']);
    expect(read(folder, 'content/all.json')).toBe(list);
  });

  test.each([
    ['{"data":{"makers":[1]}}', 'is no object of JSON'],
    ['{"data":{"makers":[{"name":"A"}]}}', 'has no identifier'],
    ['{"data":{"makers":"x"}}', 'holds no list and no map of entries at `data.makers`'],
    ['{"data":[]}', 'holds no list and no map'],
    ['{"data":{"makers":[{"id":"a"},]}}', ''],
    ['{"data":{"makers":[{"id":"a","id":"b"}]}}', 'a key stands here twice'],
    ['', ''],
  ])('%j is told', async (text, says) => {
    const { findings, code } = await result(workspace({ ...settings, 'content/all.json': text }), ['check']);
    expect([code, findings[0]?.finding]).toEqual([1, 'unreadable-file']);
    expect(findings[0].says).toContain(says);
  });
});

test('what stands in columns is what stood there, whatever its keys are', () => {
  const key = fc.constantFrom('a', 'b c', '', ' x', 'y ', '.', 'd.', '.e', 'f..g', 'de', 'zh-Hans');
  const inner = fc.oneof(key, fc.constantFrom('b.c', 'a.de'));
  const value = fc.letrec((tie) => ({
    any: fc.oneof(
      { depthSize: 'small' },
      fc.integer(),
      fc.string(),
      fc.array(fc.integer(), { maxLength: 2 }),
      fc.dictionary(inner, tie('any'), { minKeys: 1, maxKeys: 3 }),
    ),
  })).any;
  fc.assert(
    fc.property(fc.dictionary(key, value, { maxKeys: 4 }), (values) => {
      expect(nested(flattened(values as JsonObject, new Set()))).toEqual(values);
    }),
    { numRuns: 2000 },
  );
});
