import fs from 'node:fs';
import path from 'node:path';
import { gunzipSync, gzipSync } from 'node:zlib';
import { describe, expect, test } from 'vitest';
import { edit, lumbrik, read, result, snapshot, workspace, write } from './support/program.ts';
import { allFull, allStops } from './support/stops.ts';

const specimens = [
  '{"no":"s-1","name":"Åsa\'s × officinalis", "found":"1890-01-01","state":"draft","label":"l-1"}',
  '',
  '{ "no": "s-2", "name": "B", "found": "1891-01-01", "label": "l-2" }',
].join('\n');
const labels = '{"id":"l-1","words":"One"}\n{"id":"l-2","words":"Two"}\n';

/** A workspace whose entries are lines of two files, one of them compressed, and files of a folder. */
const herbarium = (files: Readonly<Record<string, string | Buffer>> = {}): string =>
  workspace({
    'lumbrik.yaml': [
      'workspace: Herbarium',
      'content:',
      '  - folder: content',
      '  - lines: content/specimens.ndjson',
      '    type: specimen',
      '    keys: { id: no, status: state }',
      '  - { lines: [content/labels.ndjson.gz], type: label }',
    ].join('\n'),
    'model/types/specimen.yaml':
      'type: specimen\nfields:\n  name: { kind: text, required: true }\n  found: { kind: date }\n  label: { kind: reference, to: label }\n',
    'model/types/label.yaml': 'type: label\nfields:\n  words: { kind: text }\n',
    'content/specimens.ndjson': specimens,
    'content/labels.ndjson.gz': gzipSync(labels),
    'content/label/l-3.yaml': 'words: Three\n',
    ...files,
  });

/** The same with a drafted migration that renames a field and fills another, rehearsed. */
async function rehearsed(): Promise<string> {
  const folder = herbarium();
  await lumbrik(folder, ['seal', '-m', 'one']);
  edit(folder, 'model/types/specimen.yaml', 'found:', 'gathered:');
  edit(folder, 'model/types/label.yaml', 'fields:\n', 'fields:\n  printed: { kind: boolean, required: true }\n');
  const { file } = await result(folder, ['migration', 'draft', '--renamed', 'specimen.found=gathered']);
  edit(folder, file, /^ {4}open: .*\n/mu, '    value: false\n');
  expect(await result(folder, ['migration', 'rehearse'])).toMatchObject({ ok: true, entries: 5, changed: 5, files: 3 });
  return folder;
}

describe('entries that are lines of files [K3]', () => {
  test('are checked as entries anywhere are, and findings tell the line', async () => {
    const folder = herbarium({
      'content/specimens.ndjson': `${specimens}\n{"no":"s-3","found":"1890","label":"l-9"}\nno json\n{"no":"s-1","name":"again"}\n`,
    });
    const { findings, entries } = await result(folder, ['check']);
    expect(entries).toBe(7);
    expect(
      findings.map(({ finding, line, column, entry }: Record<string, unknown>) => [finding, line, column, entry]),
    ).toEqual([
      ['required-missing', 4, 1, 'specimen/s-3'],
      ['not-a-date', 4, 21, 'specimen/s-3'],
      ['dangling-reference', 4, 36, 'specimen/s-3'],
      ['unreadable-file', 5, 1, undefined],
      ['duplicate-entry', 6, 1, 'specimen/s-1'],
    ]);
    expect(findings[4].says).toContain('content/specimens.ndjson:1');
    expect(findings[1].end).toEqual({ line: 4, column: 27 });
  });

  test('a second entry of the same address in another store is a duplicate', async () => {
    const folder = herbarium({ 'content/label/l-1.yaml': 'words: One\n' });
    expect((await result(folder, ['check'])).findings).toMatchObject([
      { finding: 'duplicate-entry', file: 'content/labels.ndjson.gz', line: 1 },
    ]);
  });

  test('are shown, traced and counted', async () => {
    const folder = herbarium();
    expect(await result(folder, ['show', 'label/l-2'])).toMatchObject({
      file: 'content/labels.ndjson.gz',
      pointedAtBy: [{ entry: 'specimen/s-2', pointer: '/label' }],
    });
    expect((await result(folder, ['trace', 'specimen/s-1'])).pointsAt.next[0].node.entry).toBe('label/l-1');
    expect((await result(folder, ['show', 'specimen'])).entries).toBe(2);
  });

  test('are migrated and taken back, byte for byte beside what changes', async () => {
    const folder = await rehearsed();
    const before = snapshot(folder);
    expect(await result(folder, ['migration', 'run'])).toMatchObject({ code: 0, files: 3 });
    expect(read(folder, 'content/specimens.ndjson')).toBe(specimens.replaceAll('"found"', '"gathered"'));
    expect(gunzipSync(fs.readFileSync(path.join(folder, 'content/labels.ndjson.gz'))).toString()).toBe(
      labels.replaceAll(/"\}/gu, '","printed":false}'),
    );
    expect((await result(folder, ['check'])).findings).toEqual([]);
    expect(await result(folder, ['migration', 'undo'])).toMatchObject({ ok: true, files: 3 });
    expect(snapshot(folder)).toEqual(before);
  });

  test('a line that changed since the rehearsal stops the run before anything is written', async () => {
    const folder = await rehearsed();
    edit(folder, 'content/specimens.ndjson', '"B"', '"C"');
    const before = snapshot(folder);
    expect((await result(folder, ['migration', 'run'])).error.code).toBe('changed-since-rehearsal');
    expect(snapshot(folder)).toEqual(before);
  });

  test('a stop at any change of the disk leaves a run that is finished or taken back [H5]', async () => {
    const start = await rehearsed();
    const old = snapshot(start);
    await allStops(start, ['migration', 'run'], async (folder) => {
      const { error } = await result(folder, ['check']);
      if (error !== undefined) expect((await result(folder, ['migration', 'undo'])).error).toBeUndefined();
      else if (read(folder, 'content/specimens.ndjson') !== specimens) await lumbrik(folder, ['migration', 'undo']);
      expect(snapshot(folder)).toEqual(old);
    });
  });

  test.each([['run'], ['undo']])(
    'a disk that is full from any change on is told, and %s can be repeated [H5]',
    async (command) => {
      const start = await rehearsed();
      const old = snapshot(start);
      if (command === 'undo') await lumbrik(start, ['migration', 'run']);
      await allFull(start, ['migration', command], async (folder, { code, out, err }, fullFrom) => {
        // Some changes need no room that a command cannot do without.
        if (code !== 0)
          expect([fullFrom, code, out + err]).toEqual([fullFrom, 2, expect.stringContaining('the disk is full')]);
        const { state } = await result(folder, ['check']);
        expect([fullFrom, state]).toEqual([fullFrom, undefined]);
        await lumbrik(folder, ['migration', 'undo']);
        expect([fullFrom, snapshot(folder)]).toEqual([fullFrom, old]);
      });
    },
  );

  test('new entries are written to a folder, or refused where there is none', async () => {
    const folder = herbarium();
    expect((await result(folder, ['entry', 'new', 'label', 'l-4'])).file).toBe('content/label/l-4.yaml');
    edit(folder, 'lumbrik.yaml', '  - folder: content\n', '');
    expect((await result(folder, ['entry', 'new', 'label', 'l-5'])).error.code).toBe('no-folder');
  });
});

describe('where entries are kept [K3]', () => {
  test('files of the content folder that no store reads are named, never passed over', async () => {
    const folder = workspace({
      'model/types/light.yaml': 'type: light\nfields:\n  name: { kind: text }\n',
      'content/lights.ndjson': '{"id":"a"}\n',
      'content/light/picture.png': 'x',
    });
    const { findings, ok } = await result(folder, ['check']);
    expect(ok).toBe(true);
    expect(findings.map(({ finding, file }: Record<string, unknown>) => [finding, file])).toEqual([
      ['unread-file', 'content/light/picture.png'],
      ['unread-file', 'content/lights.ndjson'],
    ]);
    expect((await lumbrik(folder, ['check'])).out).not.toContain('All fine');
  });

  test.each([
    ['content: []', 'content'],
    ['content: [{ folder: elsewhere }]', 'content folder'],
    ['content: [{ folder: content/../model }]', 'content folder'],
    ['content: [{ lines: content/.hidden.ndjson }]', 'content folder'],
    ['content: [{ lines: /etc/passwd }]', 'content folder'],
    ['content: [{ lines: [] }]', 'lines'],
    ['content: [{ folder: content, keys: { ident: x } }]', 'ident'],
    ['content: content', 'list'],
  ])('%s is refused in words', async (said, word) => {
    const folder = workspace({ 'lumbrik.yaml': `workspace: x\n${said}\n` });
    const { error, code } = await result(folder, ['check']);
    expect(code).toBe(2);
    expect(JSON.stringify(error)).toContain(word);
  });

  test('a file of lines that is not there, or is a link, is told', async () => {
    const folder = workspace({
      'lumbrik.yaml': 'workspace: x\ncontent: [{ lines: [content/a.ndjson, content/b.ndjson], type: light }]\n',
      'model/types/light.yaml': 'type: light\nfields: {}\n',
      'secret.ndjson': '{"id":"secret"}\n',
    });
    fs.mkdirSync(path.join(folder, 'content'));
    fs.symlinkSync('../secret.ndjson', path.join(folder, 'content/b.ndjson'));
    const { findings, entries } = await result(folder, ['check']);
    expect(entries).toBe(0);
    expect(findings.map(({ finding, file }: Record<string, unknown>) => [finding, file])).toEqual([
      ['unreadable-file', 'content/a.ndjson'],
      ['symbolic-link', 'content/b.ndjson'],
    ]);
  });

  test('a list and an object that are filled in stay on the line of their entry', async () => {
    const folder = herbarium();
    await lumbrik(folder, ['seal', '-m', 'one']);
    const added =
      '  parts: { kind: text, many: true, required: true }\n  size: { kind: object, required: true, fields: { mm: { kind: integer } } }\n';
    edit(folder, 'model/types/specimen.yaml', 'fields:\n', `fields:\n${added}`);
    const { file } = await result(folder, ['migration', 'draft']);
    edit(folder, file, /(field: \{ kind: text.*\n) {4}open: .*\n/u, '$1    value: ["leaf, \\"x\\"", root]\n');
    edit(folder, file, /^ {4}open: .*\n/mu, '    value: { mm: 3 }\n');
    await result(folder, ['migration', 'rehearse']);
    expect(await result(folder, ['migration', 'run'])).toMatchObject({ code: 0, files: 1 });
    const [first, , third] = read(folder, 'content/specimens.ndjson').split('\n');
    expect(first).toContain('"parts":["leaf, \\"x\\"","root"]');
    expect(JSON.parse(third ?? '')).toMatchObject({ no: 's-2', parts: ['leaf, "x"', 'root'], size: { mm: 3 } });
    expect(third).toContain('"size": { "mm": 3 }');
    expect(await result(folder, ['check'])).toMatchObject({ findings: [], entries: 5 });
  });

  test.each([
    ['sub -> ../elsewhere', '../elsewhere'],
    ['sub -> a circle', 'sub'],
  ])('a folder on the way that is a link is told and not followed: %s', async (_, target) => {
    const folder = workspace({
      'lumbrik.yaml': 'workspace: x\ncontent: [{ lines: content/sub/a.ndjson, type: light }]\n',
      'model/types/light.yaml': 'type: light\nfields: {}\n',
      'elsewhere/a.ndjson': '{"id":"secret"}\n',
    });
    fs.mkdirSync(path.join(folder, 'content'));
    fs.symlinkSync(target, path.join(folder, 'content/sub'));
    const { findings, entries } = await result(folder, ['check']);
    expect(entries).toBe(0);
    expect(findings).toMatchObject([
      { finding: 'unread-file', file: 'content/sub' },
      { finding: 'symbolic-link', file: 'content/sub/a.ndjson', says: 'lies behind content/sub, a symbolic link' },
    ]);
  });

  test('a folder of entries behind a link is refused', async () => {
    const folder = workspace({
      'lumbrik.yaml': 'workspace: x\ncontent: [{ folder: content/sub/entries }]\n',
      'model/types/light.yaml': 'type: light\nfields: {}\n',
      'elsewhere/entries/light/secret.yaml': '{}\n',
    });
    fs.mkdirSync(path.join(folder, 'content'));
    fs.symlinkSync('../elsewhere', path.join(folder, 'content/sub'));
    expect((await result(folder, ['check'])).error).toMatchObject({
      code: 'symbolic-link',
      where: { file: 'content/sub' },
    });
  });

  test.each(['workspace: [', '', 'workspace: x\ncontent: 3\n'])(
    'a run is taken back where lumbrik.yaml cannot be used by now: %j',
    async (broken) => {
      const folder = await rehearsed();
      const before = snapshot(folder);
      await lumbrik(folder, ['migration', 'run']);
      write(folder, { 'lumbrik.yaml': broken });
      expect(await result(folder, ['migration', 'undo'])).toMatchObject({ ok: true, files: 3 });
      expect(snapshot(folder)).toEqual(new Map([...before, ['lumbrik.yaml', Buffer.from(broken).toString('hex')]]));
    },
  );
});

test.each([
  ['{ list: content/a.json }', 'item 1 of `content` has none of `folder`, `lines`, `json` and `csv`'],
  ['{}', 'item 1 of `content` has none of `folder`, `lines`, `json` and `csv`'],
  ['{ csv: content/a.csv, list: 3 }', 'there is no option `list` in item 1 of `content`'],
  ['{ csv: 3 }', '`csv` is 3'],
])('where entries are, said as %s, is refused in words', async (said, told) => {
  const folder = workspace({ 'lumbrik.yaml': `workspace: W\ncontent: [${said}]\n` });
  expect(await lumbrik(folder, ['check'])).toMatchObject({ code: 2, err: expect.stringContaining(told) });
});
