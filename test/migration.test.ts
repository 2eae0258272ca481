import { spawn } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import {
  coast,
  edit,
  lumbrik,
  read,
  result,
  root,
  snapshot,
  started,
  temporary,
  workspace,
  write,
} from './support/program.ts';

const light = 'model/types/lighthouse.yaml';

/** A workspace, sealed, with some files changed afterwards. */
async function changed(before: Record<string, string>, after: Record<string, string>): Promise<string> {
  const folder = workspace(before);
  expect((await lumbrik(folder, ['seal', '-m', 'one'])).code).toBe(0);
  write(folder, after);
  return folder;
}

const draftOf = async (folder: string): Promise<string> =>
  read(folder, (await result(folder, ['migration', 'draft'])).file);

/** Answers the first open question of a migration's file by some lines in its place. */
function answer(folder: string, file: string, lines: string): void {
  edit(folder, file, /^ {4}open: .*\n/mu, lines);
}

const steps = (text: string): string =>
  text
    .slice(text.indexOf('steps:\n') + 'steps:\n'.length)
    .replace(/^ *#.*\n/gmu, '')
    .replace(/^ {2}/gmu, '');

describe('the whole way on the demo', () => {
  test('draft, answer, rehearse, run, check, seal, undo', async () => {
    const folder = coast();
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, light, '  height: ', '  focalHeight: ');
    edit(folder, light, 'max: 300', 'max: 200');
    edit(folder, light, 'fields:\n', 'fields:\n  access: { kind: choice, choices: [path, boat], required: true }\n');
    const before = snapshot(folder);

    const drafted = await result(folder, ['migration', 'draft']);
    expect(drafted).toMatchObject({ code: 0, from: 'revision 1', to: 'the working files', openQuestions: 3 });
    expect(drafted.steps.map(({ verb, address }: any) => `${verb} ${address}`)).toEqual([
      'rename lighthouse.height',
      'add lighthouse.access',
      'change lighthouse.summary',
    ]);
    expect((await result(folder, ['migration', 'list'])).migrations[0]).toMatchObject({
      state: 'open',
      openQuestions: 3,
    });

    expect(await result(folder, ['migration', 'rehearse'])).toMatchObject({ code: 1, ok: false, openQuestions: 3 });
    expect(await result(folder, ['migration', 'run'])).toMatchObject({
      code: 3,
      error: { code: 'open-questions', where: { file: drafted.file } },
    });

    answer(folder, drafted.file, '');
    answer(folder, drafted.file, "    cel: \"entry.id == 'skerry-point' ? 'boat' : 'path'\"\n");
    answer(folder, drafted.file, '    cel: entry.summary.substring(0, 200)\n');
    expect(await result(folder, ['migration', 'run'])).toMatchObject({ code: 3, error: { code: 'not-rehearsed' } });

    const rehearsed = await result(folder, ['migration', 'rehearse']);
    expect(rehearsed).toMatchObject({ code: 0, ok: true, entries: 72, files: 11, errorsBefore: 0, errorsAfter: 0 });
    expect(rehearsed.steps.map(({ entries }: any) => entries)).toEqual([11, 11, 4]);
    expect(rehearsed.steps[0].samples[0]).toEqual({
      entry: 'lighthouse/far-aldra',
      pointer: '/height',
      before: 52,
      movedTo: '/focalHeight',
    });
    expect(rehearsed.lost).toHaveLength(4);
    expect(rehearsed.lost[0]).toMatchObject({
      entry: 'lighthouse/far-aldra',
      pointer: '/summary',
      becomes: expect.any(String),
    });
    expect((await result(folder, ['migration', 'list'])).migrations[0].state).toBe('rehearsed');
    const withDraft = snapshot(folder);
    expect([...withDraft.keys()].filter((name) => !before.has(name))).toEqual([drafted.file]);
    for (const [name, bytes] of before) expect([name, withDraft.get(name)]).toEqual([name, bytes]);

    expect(await result(folder, ['migration', 'run'])).toMatchObject({ code: 0, files: 11, resumed: false });
    expect(await result(folder, ['check'])).toMatchObject({ code: 0, standing: { state: 'here' } });
    expect(read(folder, 'content/lighthouse/skerry-point.md')).toContain('\naccess: boat\n');
    expect(await result(folder, ['migration', 'run'])).toMatchObject({ code: 3, error: { code: 'already-run' } });
    expect(await result(folder, ['seal', '-m', 'two'])).toMatchObject({
      version: '2.0.0',
      standing: { state: 'here', revision: 2 },
    });
    expect((await result(folder, ['migration', 'list'])).migrations[0]).toMatchObject({
      state: 'run',
      from: 'revision 1',
      to: 'revision 2',
    });

    expect(await result(folder, ['migration', 'undo'])).toMatchObject({ code: 0, files: 11 });
    const { 'revisions/0002.json': _, ...back } = Object.fromEntries(snapshot(folder));
    expect(new Map(Object.entries(back))).toEqual(withDraft);
    expect(await result(folder, ['migration', 'undo'])).toMatchObject({ code: 2, error: { code: 'nothing-to-undo' } });
    expect((await result(folder, ['check'])).standing).toEqual({
      state: 'behind',
      revision: 1,
      migration: drafted.file,
    });
  });

  test('a rename changes one line of a Markdown entry and no other [H5]', async () => {
    const folder = coast();
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, light, '  height: ', '  focalHeight: ');
    const file = 'content/lighthouse/skerry-point.md';
    const before = read(folder, file).split('\n');
    await lumbrik(folder, ['migration', 'draft', '--renamed', 'lighthouse.height=focalHeight']);
    await lumbrik(folder, ['migration', 'rehearse']);
    expect((await lumbrik(folder, ['migration', 'run'])).code).toBe(0);
    const after = read(folder, file).split('\n');
    expect(after).toHaveLength(before.length);
    expect(after.filter((line, index) => line !== before[index])).toEqual([
      'focalHeight: 38.5   # measured again in 2019',
    ]);
  });
});

describe('each step, from the draft to the bytes [H2]', () => {
  const regions = 'taxonomy: region\nterms:\n  - { term: north, terms: [skerries] }\n  - south\n';

  /** Drafts, answers, rehearses, runs; then undoes and expects every byte back. Returns the entry in between. */
  async function through(
    before: Record<string, string>,
    after: Record<string, string>,
    { answers = [], args = [] }: { answers?: readonly string[]; args?: readonly string[] } = {},
  ) {
    const folder = await changed(before, after);
    for (const [name, content] of Object.entries(after)) if (content === '') fs.rmSync(path.join(folder, name));
    const drafted = await result(folder, ['migration', 'draft', ...args]);
    for (const lines of answers) answer(folder, drafted.file, lines);
    const start = snapshot(folder);
    const rehearsed = await result(folder, ['migration', 'rehearse']);
    if (rehearsed.error) throw new Error(JSON.stringify(rehearsed.error));
    const ran = await result(folder, ['migration', 'run']);
    expect(ran.error).toBeUndefined();
    const content = Object.fromEntries(
      [...snapshot(folder)]
        .filter(([name]) => name.startsWith('content/') && name !== 'content/revision.yaml')
        .map(([name, hex]) => [name, Buffer.from(hex, 'hex').toString()]),
    );
    expect((await lumbrik(folder, ['migration', 'undo'])).code).toBe(0);
    expect(snapshot(folder)).toEqual(start);
    return { content, steps: steps(read(folder, drafted.file)), rehearsed };
  }

  const a = 'model/types/a.yaml';
  const entry = 'content/light/a.yaml';
  const model = (fields: string) => `type: light\nfields:\n  name: { kind: text }\n${fields}`;

  test('add with a constant, for entries of any format and place', async () => {
    const { content, steps: written } = await through(
      {
        [a]: model(''),
        'content/light/a.yaml': 'name: A\n',
        'content/light/b.json': '{"name": "B"}\n',
        'content/light/c.md': '---\nname: C\n---\nProse\n',
        'content/light/d.md': '---\r\nname: D\r\n---\r\n',
      },
      { [a]: model('  open: { kind: boolean, required: true }\n  text: { kind: markdown, body: true }\n') },
      { answers: ['    value: true\n'] },
    );
    expect(content).toEqual({
      'content/light/a.yaml': 'name: A\nopen: true\n',
      'content/light/b.json': '{"name": "B", "open": true}\n',
      'content/light/c.md': '---\nname: C\nopen: true\n---\nProse\n',
      'content/light/d.md': '---\r\nname: D\r\nopen: true\r\n---\r\n',
    });
    expect(written).toContain(
      '- add: light.open\n  field: { kind: boolean, required: true }\n  suggest: { value: false }\n  value: true\n',
    );
  });

  test('add with an expression, and without a fill for what is optional', async () => {
    const { content } = await through(
      { [a]: model('  h: { kind: decimal }\n'), [entry]: 'name: A\nh: 2.5\n' },
      { [a]: model('  h: { kind: decimal }\n  cm: { kind: integer, required: true }\n  note: { kind: text }\n') },
      { answers: ['    cel: round(entry.h * 100)\n'] },
    );
    expect(content[entry]).toBe('name: A\nh: 2.5\ncm: 250\n');
  });

  test('drop: the value is listed as lost', async () => {
    const { content, rehearsed } = await through(
      { [a]: model('  x: { kind: text }\n'), [entry]: 'name: A\nx: gone # really\n' },
      { [a]: model('') },
      { answers: [''] },
    );
    expect(content[entry]).toBe('name: A\n');
    expect(rehearsed.lost).toEqual([
      { entry: 'light/a', pointer: '/x', value: 'gone', why: 'the field light.x is dropped' },
    ]);
  });

  test('rename of the body of a file changes no file', async () => {
    const { content } = await through(
      { [a]: model('  text: { kind: markdown, body: true }\n'), 'content/light/a.md': '---\nname: A\n---\n\nProse\n' },
      { [a]: model('  story: { kind: markdown, body: true }\n') },
      { args: ['--renamed', 'light.text=story'] },
    );
    expect(content).toEqual({ 'content/light/a.md': '---\nname: A\n---\n\nProse\n' });
  });

  test('the body of a file becomes a field, and back to nothing', async () => {
    const before = {
      [a]: model('  text: { kind: markdown, body: true }\n'),
      'content/light/a.md': '---\nname: A\n---\n\nProse\n',
    };
    expect((await through(before, { [a]: model('  text: { kind: longText }\n') })).content).toEqual({
      'content/light/a.md': '---\nname: A\ntext: Prose\n---\n',
    });
    expect((await through(before, { [a]: model('') }, { answers: [''] })).content).toEqual({
      'content/light/a.md': '---\nname: A\n---\n',
    });
  });

  test('rename of a type moves its files and every reference that names it', async () => {
    const keeper =
      'type: keeper\nfields:\n  lights: { kind: reference, to: [light, keeper], many: true }\n  first: { kind: reference, to: light }\n';
    const { content } = await through(
      {
        [a]: model(''),
        'model/types/k.yaml': keeper,
        [entry]: 'name: A\n',
        'content/light/old/b.yaml': 'type: light\nname: B\n',
        'content/keeper/k.yaml': 'lights: [light/a, keeper/k] # both\nfirst: a\n',
      },
      {
        [a]: model('').replace('light', 'lighthouse'),
        'model/types/k.yaml': keeper.replaceAll('light,', 'lighthouse,').replace('to: light }', 'to: lighthouse }'),
      },
      { args: ['--renamed', 'light=lighthouse'] },
    );
    expect(content).toEqual({
      'content/lighthouse/a.yaml': 'name: A\n',
      'content/lighthouse/old/b.yaml': 'type: lighthouse\nname: B\n',
      'content/keeper/k.yaml': 'lights: [lighthouse/a, keeper/k] # both\nfirst: a\n',
    });
  });

  test('rename of a term and of a choice', async () => {
    const fields =
      '  region: { kind: term, taxonomy: region, many: true }\n  how: { kind: choice, choices: [easy, hard], default: hard }\n';
    const { content } = await through(
      {
        [a]: model(fields),
        'model/taxonomies/r.yaml': regions,
        [entry]: "name: A\nregion: [ 'skerries', south ]\nhow: hard\n",
      },
      {
        [a]: model(fields.replaceAll('hard', 'very-hard')),
        'model/taxonomies/r.yaml': regions.replace('skerries', 'the-skerries'),
      },
      { args: ['--renamed', 'light.how:hard=very-hard', '--renamed', 'region:skerries=the-skerries'] },
    );
    expect(content[entry]).toBe("name: A\nregion: [ 'the-skerries', south ]\nhow: very-hard\n");
  });

  test('convert between kinds, with a fallback for what cannot be carried', async () => {
    const { content, rehearsed } = await through(
      {
        [a]: model('  m: { kind: text }\n'),
        'content/light/a.yaml': 'name: A\nm: "90"\n',
        'content/light/b.yaml': 'name: B\nm: 1:30\n',
        'content/light/c.yaml': 'name: C\n',
      },
      { [a]: model('  m: { kind: integer, min: 1 }\n') },
      { answers: ['    value: 60\n'] },
    );
    expect(content).toEqual({
      'content/light/a.yaml': 'name: A\nm: 90\n',
      'content/light/b.yaml': 'name: B\nm: 60\n',
      'content/light/c.yaml': 'name: C\n',
    });
    expect(rehearsed.lost).toEqual([
      { entry: 'light/b', pointer: '/m', value: '1:30', why: 'it is not written as a whole number', becomes: 60 },
    ]);
  });

  test.each<[string, string, string, string]>([
    ['text to date', '{ kind: text }', '{ kind: date }', 'x: 1858-10-01'],
    ['integer to decimal', '{ kind: integer }', '{ kind: decimal }', 'x: 12'],
    ['decimal to integer', '{ kind: decimal }', '{ kind: integer }', 'x: 12'],
    ['text to long text', '{ kind: text }', '{ kind: longText }', 'x: some words'],
    ['choice to text', '{ kind: choice, choices: [easy, hard] }', '{ kind: text }', 'x: easy'],
    ['one to many', '{ kind: text }', '{ kind: text, many: true }', 'x: a → x:\n  - a'],
    ['many to one', '{ kind: text, many: true }', '{ kind: text }', 'x: [a] → x: a'],
    ['text to slug', '{ kind: text }', '{ kind: slug, from: name }', 'x: Été à Holm! → x: ete-a-holm'],
    [
      'text to choice by label',
      '{ kind: text }',
      '{ kind: choice, choices: [{ choice: very-hard, label: Very Hard }] }',
      'x: very hard → x: very-hard',
    ],
    ['text to term by label', '{ kind: text }', '{ kind: term, taxonomy: region }', 'x: Skerries → x: skerries'],
    ['integer to text', '{ kind: integer }', '{ kind: text }', 'x: 12 → x: "12"'],
    ['text to boolean', '{ kind: text }', '{ kind: boolean }', "x: 'Yes' → x: true"],
    ['text to reference', '{ kind: text }', '{ kind: reference, to: light }', 'x: a'],
  ])('convert: %s', async (_, was, is, line) => {
    const [from = '', to = from] = line.split(' → ');
    const { content, rehearsed } = await through(
      { [a]: model(`  x: ${was}\n`), 'model/taxonomies/r.yaml': regions, [entry]: `name: A\n${from}\n` },
      { [a]: model(`  x: ${is}\n`) },
    );
    expect(content[entry]).toBe(`name: A\n${to}\n`);
    expect(rehearsed.lost).toEqual([]);
  });

  test('terms: added, dropped for another, moved; and a taxonomy that is new', async () => {
    const after = 'taxonomy: region\nterms:\n  - { term: south, terms: [west] }\n  - north\n';
    const { content, steps: written } = await through(
      {
        [a]: model('  region: { kind: term, taxonomy: region }\n'),
        'model/taxonomies/r.yaml': regions,
        [entry]: 'name: A\nregion: skerries\n',
      },
      {
        'model/taxonomies/r.yaml': after,
        'model/taxonomies/t.yaml':
          'taxonomy: topic\nlabel: Topic\nterms:\n  - { term: birds, about: Gannets., terms: [gulls] }\n',
      },
      { answers: ['    use: north\n'], args: ['--not-renamed', 'region:skerries'] },
    );
    expect(content[entry]).toBe('name: A\nregion: north\n');
    expect(written).toContain('- drop: region:north/skerries\n  use: north\n');
    expect(written).toContain('- arrange: "region:"\n  tree: [ { south: [ west ] }, north ]\n');
  });

  test('a type and its entries are dropped, and come back', async () => {
    const { content, rehearsed } = await through(
      {
        [a]: model(''),
        'model/types/k.yaml': 'type: keeper\n',
        [entry]: 'name: A\n',
        'content/keeper/k.yaml': 'status: draft\n',
      },
      { [a]: '' },
      { answers: [''], args: ['--not-renamed', 'light'] },
    );
    expect(content).toEqual({ 'content/keeper/k.yaml': 'status: draft\n' });
    expect(rehearsed.lost).toEqual([
      { entry: 'light/a', pointer: '/name', value: 'A', why: 'the type light is dropped' },
    ]);
  });

  test('set, written by hand: a value where a condition holds', async () => {
    const folder = await changed(
      {
        [a]: model('  h: { kind: integer }\n'),
        'content/light/a.yaml': 'name: A\nh: 2\n',
        'content/light/b.yaml': 'name: B\nh: 9\n',
      },
      { [a]: model('  h: { kind: integer }\n').replace('name: {', 'name: { label: Name,') },
    );
    const { file } = await result(folder, ['migration', 'draft']);
    fs.appendFileSync(path.join(folder, file), '  - set: light.h\n    cel: entry.h * 10\n    where: entry.h > 5\n');
    expect((await result(folder, ['migration', 'rehearse'])).steps[1]).toMatchObject({
      verb: 'set',
      entries: 1,
      samples: [{ entry: 'light/b', pointer: '/h', before: 9, after: 90 }],
    });
    await lumbrik(folder, ['migration', 'run']);
    expect([read(folder, 'content/light/a.yaml'), read(folder, 'content/light/b.yaml')]).toEqual([
      'name: A\nh: 2\n',
      'name: B\nh: 90\n',
    ]);
  });
});

/** Starts the program without waiting for it; gives its exit code in the end. */
const launched = (folder: string, args: readonly string[]): Promise<number | null> =>
  new Promise((resolve) => {
    spawn(process.execPath, [path.join(root, 'dist/cli.js'), ...args], { cwd: folder, stdio: 'ignore' }).on(
      'exit',
      resolve,
    );
  });

describe('a migration that cannot be trusted is refused and harms nothing', () => {
  /** The demo with a limit tightened and a drafted, answered migration. */
  async function ready(): Promise<{ folder: string; file: string }> {
    const folder = coast();
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, light, 'max: 300', 'max: 200');
    const { file } = await result(folder, ['migration', 'draft']);
    answer(folder, file, '    cel: entry.summary.substring(0, 200)\n');
    return { folder, file };
  }

  test.each<[string, string, string, string, string]>([
    [
      'steps that lead elsewhere [H4]',
      'to: { max: 200 }',
      'to: { max: 250 }',
      'not-proved',
      'at lighthouse.summary max, the steps lead to 250, and the model says 200',
    ],
    ['an unknown step', 'change: lighthouse', 'chnage: lighthouse', 'unusable-migration', 'there is no step `chnage`'],
    ['an unknown key', '\n    cel: ', '\n    cal: ', 'unusable-migration', 'there is no option `cal`'],
    [
      'a field that is not there',
      'lighthouse.summary\n',
      'lighthouse.sumary\n',
      'step-does-not-fit',
      'there is no field `lighthouse.sumary`',
    ],
    ['an address that is none', 'lighthouse.summary\n', 'Light House\n', 'step-does-not-fit', 'is no address'],
    [
      'an expression with a typo',
      'entry.summary.sub',
      'entry.sumary.sub',
      'step-does-not-fit',
      'there is no field `sumary`',
    ],
    [
      'an expression of the wrong type',
      'entry.summary.substring(0, 200)',
      'size(entry.summary)',
      'step-does-not-fit',
      'gives int, and `lighthouse.summary` holds string',
    ],
    ['an expression that is none', 'entry.summary.substring(0, 200)', '"1 +"', 'step-does-not-fit', 'at character'],
    [
      'an expression that fails for an entry',
      'entry.summary.substring(0, 200)',
      'entry.summary.substring(0, 9999)',
      'step-does-not-fit',
      'cannot be computed for lighthouse/far-aldra',
    ],
    [
      'a constant that breaks the field',
      'cel: entry.summary.substring(0, 200)',
      `value: ${'x'.repeat(201)}`,
      'step-does-not-fit',
      'breaks `lighthouse.summary`',
    ],
    ['both ways to fill', '\n    cel: ', '\n    value: x\n    cel: ', 'step-does-not-fit', 'both `value` and `cel`'],
    ['a hash that is none', 'from: ', 'from: x', 'unusable-migration', '`from`'],
    ['YAML that does not parse', 'steps:', 'steps: [', 'unusable-migration', 'cannot be read'],
  ])('%s', async (_, from, to, code, says) => {
    const { folder, file } = await ready();
    edit(folder, file, from, to);
    const before = snapshot(folder);
    const { error, code: exit } = await result(folder, ['migration', 'rehearse']);
    expect(error).toMatchObject({ code, says: expect.stringContaining(says), where: { file } });
    expect(exit).toBe(2);
    expect(error.mend).not.toBe('');
    expect(snapshot(folder)).toEqual(before);
  });

  test('entries, or the migration itself, changed since the rehearsal [H5]', async () => {
    const { folder, file } = await ready();
    await lumbrik(folder, ['migration', 'rehearse']);
    edit(folder, 'content/keeper/bo-strand.yaml', 'Skipper', 'The skipper');
    expect(await result(folder, ['migration', 'run'])).toMatchObject({
      code: 3,
      error: { code: 'changed-since-rehearsal' },
    });
    await lumbrik(folder, ['migration', 'rehearse']);
    fs.appendFileSync(path.join(folder, file), '# a note\n');
    expect(await result(folder, ['migration', 'run'])).toMatchObject({ code: 3, error: { code: 'not-rehearsed' } });
  });

  test('the model changed since it was drafted', async () => {
    const { folder } = await ready();
    edit(folder, light, 'max: 60', 'max: 61');
    expect(await result(folder, ['migration', 'rehearse'])).toMatchObject({
      code: 3,
      error: { code: 'model-changed' },
    });
  });

  test('drafting twice, drafting nothing, and a migration that is not there', async () => {
    const { folder, file } = await ready();
    expect(await result(folder, ['migration', 'draft'])).toMatchObject({
      code: 3,
      error: { code: 'drafted-already', where: { file } },
    });
    expect(await result(folder, ['migration', 'rehearse', '7'])).toMatchObject({
      code: 2,
      error: { code: 'no-migration' },
    });
    const other = coast();
    await lumbrik(other, ['seal', '-m', 'one']);
    expect(await result(other, ['migration', 'draft'])).toMatchObject({
      code: 2,
      error: { code: 'nothing-to-migrate' },
    });
    expect(await result(other, ['migration', 'run'])).toMatchObject({ code: 2, error: { code: 'no-migration' } });
    expect((await result(other, ['migration', 'list'])).migrations).toEqual([]);
  });

  test('an entry that was edited since the run is not thrown away by undo [H6]', async () => {
    const { folder } = await ready();
    const old = snapshot(folder, 'content');
    await lumbrik(folder, ['migration', 'rehearse']);
    await lumbrik(folder, ['migration', 'run']);
    edit(folder, 'content/lighthouse/far-aldra.md', 'steps: 201', 'steps: 202');
    expect(await result(folder, ['migration', 'undo'])).toMatchObject({
      code: 0,
      kept: [{ entry: 'lighthouse/far-aldra', fields: ['steps'] }],
    });
    expect(read(folder, 'content/lighthouse/far-aldra.md')).toContain('steps: 202');
    edit(folder, 'content/lighthouse/far-aldra.md', 'steps: 202', 'steps: 201');
    expect(snapshot(folder, 'content')).toEqual(old);
  });

  test('two runs at once: the lock of a living process holds, that of a dead one does not', async () => {
    const { folder } = await ready();
    await lumbrik(folder, ['migration', 'rehearse']);
    const lock = (pid: number) => write(folder, { '.lumbrik/lock': `${pid} ${os.hostname()}` });
    lock(process.pid);
    for (const args of [
      ['migration', 'run'],
      ['migration', 'undo'],
      ['migration', 'draft'],
      ['seal', '-m', 'x'],
    ])
      expect(await result(folder, args)).toMatchObject({ code: 3, error: { code: 'locked' } });
    lock(2 ** 22 + 1);
    expect((await result(folder, ['migration', 'run'])).code).toBe(0);
    expect(fs.existsSync(path.join(folder, '.lumbrik/lock'))).toBe(false);
  });

  test('two real runs at the same moment: one does it, the other is refused', async () => {
    const { folder } = await ready();
    await lumbrik(folder, ['migration', 'rehearse']);
    const codes = await Promise.all([launched(folder, ['migration', 'run']), launched(folder, ['migration', 'run'])]);
    expect(codes.sort()).toEqual([0, 3]);
    expect(await result(folder, ['check'])).toMatchObject({ ok: true, standing: { state: 'here' } });
  });

  test('nothing is written through a link that leads out of the workspace', async () => {
    const outside = temporary();
    const { folder } = await ready();
    fs.symlinkSync(outside, path.join(folder, 'content/light'));
    edit(folder, light, 'type: lighthouse', 'type: light');
    for (const name of ['notice', 'tour', 'page', 'home'])
      edit(folder, `model/types/${name}.yaml`, /\blighthouse\b/gu, 'light');
    fs.rmSync(path.join(folder, 'migrations'), { recursive: true });
    const { file } = await result(folder, ['migration', 'draft', '--renamed', 'lighthouse=light']);
    answer(folder, file, '    cel: entry.summary.substring(0, 200)\n');
    const before = snapshot(folder);
    expect((await result(folder, ['migration', 'rehearse'])).error).toBeUndefined();
    const ran = await result(folder, ['migration', 'run']);
    expect(ran).toMatchObject({ code: 2, error: { code: 'symbolic-link', where: { file: 'content/light' } } });
    expect(fs.readdirSync(outside)).toEqual([]);
    expect((await result(folder, ['migration', 'undo'])).error.code).toBe('nothing-to-undo');
    expect(snapshot(folder)).toEqual(before);
    for (const name of ['content', 'model', 'revisions', 'migrations', '.lumbrik']) {
      const other = coast();
      fs.rmSync(path.join(other, name), { recursive: true, force: true });
      fs.symlinkSync(outside, path.join(other, name));
      expect([name, await result(other, name === 'migrations' ? ['migration', 'list'] : ['seal', '-m', 'x'])]).toEqual([
        name,
        expect.objectContaining({ code: 2, error: expect.objectContaining({ code: 'symbolic-link' }) }),
      ]);
      expect(fs.readdirSync(outside)).toEqual([]);
    }
  });

  test('a file that may not be written, and a value that cannot be cut out', async () => {
    const { folder } = await ready();
    await lumbrik(folder, ['migration', 'rehearse']);
    if (process.getuid?.() === 0) {
      for (const name of ['.', ...fs.readdirSync(folder, { recursive: true }).map(String)])
        fs.chmodSync(path.join(folder, name), 0o555);
      const before = snapshot(folder);
      const { code, err } = started(folder, ['migration', 'run'], { uid: 65534 });
      expect([code, err]).toEqual([2, expect.stringContaining('may not be read or written')]);
      expect(snapshot(folder)).toEqual(before);
    }
    const shared = await changed(
      {
        'model/types/a.yaml': 'type: light\nfields:\n  x: { kind: text }\n  y: { kind: text }\n',
        'content/light/a.yaml': 'x: &one gone\ny: *one\n',
      },
      { 'model/types/a.yaml': 'type: light\nfields:\n  y: { kind: text }\n' },
    );
    const { file } = await result(shared, ['migration', 'draft']);
    answer(shared, file, '');
    expect(await result(shared, ['migration', 'rehearse'])).toMatchObject({
      code: 2,
      error: { code: 'cannot-edit', where: { file: 'content/light/a.yaml' } },
    });
  });
});

describe('what is drafted reads like a form [H1]', () => {
  test('a comment on each step says why it is there and what it hits', async () => {
    const folder = coast();
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, light, 'max: 300', 'max: 200');
    const text = await draftOf(folder);
    expect(text.replaceAll('\n  # ', ' ')).toContain(
      'Changed: max 300 to 200. 4 of 11 entries are longer; the longest, lighthouse/skerry-point, has 287. Add',
    );
    expect(text).toContain(
      '  - change: lighthouse.summary\n    to: { max: 200 }\n    open: How are the values mended that no longer fit? Yes leaves them to their authors.\n',
    );
    for (const line of text.split('\n')) expect(line.length).toBeLessThanOrEqual(100);
  });
});
