import { spawn } from 'node:child_process';
import { once } from 'node:events';
import fs from 'node:fs';
import path from 'node:path';
import { gzipSync } from 'node:zlib';
import { describe, expect, test } from 'vitest';
import { lumbrik, program, read, result, root, started, temporary, workspace, write } from './support/program.ts';

/** Threads are not worth their while for as little as is tried here. */
const several = { LUMBRIK_THREADS: '2' };

const model = {
  'model/types/light.yaml':
    'type: light\nfields:\n  name: { kind: text, unique: true, max: 30 }\n  range: { kind: integer, max: 39 }\n  region: { kind: term, taxonomy: region }\n  near: { kind: reference, to: [light, buoy], many: true, eligible: "!has(target.range) || target.range > 3" }\n  keeper: { kind: reference, to: keeper, inverse: { name: kept, max: 3 } }\n  more: { kind: text }\n',
  'model/types/buoy.yaml':
    'type: buoy\nfields:\n  name: { kind: text }\n  range: { kind: integer }\n  more: { kind: text }\n',
  'model/types/keeper.yaml':
    'type: keeper\nfields:\n  name: { kind: text }\n  lights: { kind: integer, computed: { count: light.keeper } }\n',
  'model/taxonomies/region.yaml':
    'taxonomy: region\nterms:\n  - { term: north, label: North }\n  - { term: south, label: South }\n',
};

/** Entries of which every so often one is wrong, in every way that shows only once all are known, or in itself. */
const lights = (count: number): readonly { readonly type: string }[] =>
  Array.from({ length: count }, (_, number) => ({
    id: number % 1009 === 7 ? `light-${number - 1}` : `light-${number}`,
    type: number % 211 === 3 ? 'buoy' : 'light',
    status: number % 17 === 0 ? 'draft' : 'published',
    name: number % 503 === 9 ? 'Grünes Feuer' : `Feuer ${number} ${'é'.repeat(number % 7)}`,
    ...(number % 211 === 3
      ? {}
      : { range: number % 97 === 5 ? 40 : number % 30, region: number % 301 === 2 ? 'nort' : 'north' }),
    ...(number % 3 === 0 && number % 211 !== 3
      ? { near: [`light/light-${(number * 7) % count}`, `light-${number}`], keeper: `keeper-${number % 600}` }
      : {}),
    [number % 401 === 1 ? 'mor' : 'more']: 'x'.repeat(600 + (number % 60)),
  }));

const asLines = (entries: readonly object[]): string => entries.map((one) => `${JSON.stringify(one)}\n`).join('');
/** The same, each so long that a file of them is read in several parts. */
const wide = (entries: readonly object[]): readonly object[] =>
  entries.map((one) => ({ ...one, 'far-off': 'x'.repeat(7000) }));
/** Less than the model allows above, under another name, and with a text that nothing has. */
const tighter =
  'type: light\nfields:\n  title: { kind: text, required: true }\n  name: { kind: text, unique: true, max: 30 }\n  range: { kind: integer, max: 25 }\n  region: { kind: term, taxonomy: region }\n  near: { kind: reference, to: light, many: true, eligible: "!has(target.range) || target.range > 3" }\n  keeper: { kind: reference, to: keeper, inverse: { name: kept, max: 3 } }\n  extra: { kind: text, max: 40 }\n';
const keepers = Array.from({ length: 3990 }, (_, number) => ({
  id: `keeper-${number}`,
  type: 'keeper',
  name: 'K',
  lights: number % 5,
}));

describe('a large store is checked by several threads [K3]', () => {
  test('which find what one finds', async () => {
    const lines = `${asLines(keepers)}${asLines(lights(6000))}not an entry\n\n{"id": 3, "type": "light"}\n`;
    expect(lines.length).toBeGreaterThan(4 << 20);
    const plain = workspace({
      ...model,
      'lumbrik.yaml': 'workspace: W\ncontent: [{ lines: content/all.ndjson }]\n',
      'content/all.ndjson': lines,
    });
    const zipped = workspace({
      ...model,
      'lumbrik.yaml': 'workspace: W\ncontent: [{ lines: content/all.ndjson.gz }]\n',
      'content/all.ndjson.gz': gzipSync(lines),
    });
    // What is compressed cannot be cut into parts, and is read by one.
    const [by, one] = [await result(plain, ['check'], several), await result(zipped, ['check'])];
    const names = new Set(one.findings.map(({ finding }: { finding: string }) => finding));
    expect([...names].sort()).toEqual([
      'dangling-reference',
      'duplicate-entry',
      'malformed-reference',
      'not-computed',
      'not-eligible',
      'not-unique',
      'target-not-published',
      'too-large',
      'too-many-pointing',
      'unknown-field',
      'unknown-term',
      'unreadable-file',
    ]);
    const plainly = JSON.stringify(by.findings);
    expect(plainly === JSON.stringify(one.findings).replaceAll('.ndjson.gz', '.ndjson')).toBe(true);
    expect(by.summary).toEqual(one.summary);

    // What is put aside on the disk comes back as it was, and nothing is left of it.
    fs.rmSync(path.join(plain, '.lumbrik'), { recursive: true });
    const aside = await result(plain, ['check'], { ...several, LUMBRIK_MEMORY: '0' });
    expect(JSON.stringify(aside.findings) === plainly).toBe(true);
    expect(fs.readdirSync(path.join(plain, '.lumbrik')).sort()).toEqual(['.gitignore', 'memory']);

    // Where nothing can be written, memory has to do.
    write(plain, { [`.lumbrik/overflow-${process.pid}/in the way`]: '' });
    const within = await result(plain, ['check'], { ...several, LUMBRIK_MEMORY: '0' });
    expect(JSON.stringify(within.findings) === plainly).toBe(true);
  });

  test('which learn what one learns, whatever is odd in the entries [K2]', async () => {
    const lines = `${asLines(keepers)}${asLines(lights(6000))}not an entry\n`;
    const learnt = async (file: string, bytes: string | Buffer, env: Record<string, string>) => {
      const folder = temporary();
      write(folder, { [file]: bytes });
      const { files, ...told } = await result(folder, ['learn'], env);
      expect(files.length).toBeGreaterThan(3);
      const types = fs.readdirSync(path.join(folder, 'model/types')).map((name) => read(folder, `model/types/${name}`));
      return JSON.stringify([told, types]).replaceAll('.ndjson.gz', '.ndjson');
    };
    const one = await learnt('content/all.ndjson.gz', gzipSync(lines), {});
    expect((await learnt('content/all.ndjson', lines, several)) === one).toBe(true);
    expect((await learnt('content/all.ndjson', lines, { LUMBRIK_THREADS: '1' })) === one).toBe(true);
  });

  test('also where each entry is a file', async () => {
    const files = Object.fromEntries(
      lights(900).map((one, number) => [`content/light/${String(number).padStart(4, '0')}.json`, JSON.stringify(one)]),
    );
    const settings = { 'lumbrik.yaml': 'workspace: W\n' };
    const many = workspace({ ...model, ...settings, ...files });
    const { findings, entries } = await result(many, ['check'], several);
    expect(entries).toBe(900);
    const few = workspace({
      ...model,
      ...settings,
      'lumbrik.yaml': 'workspace: W\ncontent: [{ lines: content/a.ndjson }]\n',
      'content/a.ndjson': asLines(lights(900)),
    });
    const other = await result(few, ['check']);
    const named = (all: readonly { finding: string; entry: string }[]) =>
      all.map(({ finding, entry }) => `${entry} ${finding}`).sort();
    expect(named(findings)).toEqual(named(other.findings));
  });

  test('a migration is rehearsed by them as by one, and told is the same of what a model asks since [H3] [I2]', async () => {
    const entries = lights(900);
    const inFiles = entries.slice(600).map((one, at) => [`content/x/${at}.json`, JSON.stringify(one)]);
    const folder = workspace({
      ...model,
      'lumbrik.yaml': 'workspace: W\ncontent: [{ lines: content/all.ndjson }, { folder: content }]\n',
      'content/all.ndjson': `${asLines(wide(entries.slice(0, 600)))}not an entry\n`,
      ...Object.fromEntries(inFiles),
      'content/x/broken.json': '{',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, { 'model/types/light.yaml': tighter });
    fs.rmSync(path.join(folder, 'model/types/buoy.yaml'));
    const file = 'migrations/0001-rename-more-and-5-more.yaml';
    expect(await lumbrik(folder, ['migration', 'draft', '--renamed', 'light.more=extra'])).toMatchObject({ code: 0 });
    const both = async (args: readonly string[]) => {
      const two = await result(folder, args, several);
      expect(two).toEqual(await result(folder, args, { LUMBRIK_THREADS: '1' }));
      return two;
    };

    const text = fs.readFileSync(path.join(folder, file), 'utf8');
    const title = (cel: string) =>
      write(folder, { [file]: text.replace('open: What do the', `cel: ${cel}\n    open: What do the`) });
    title('entry.name');
    const told = await both(['migration', 'rehearse']);
    expect(told).toMatchObject({ entries: 900, openQuestions: 3, ok: false });
    expect(told.steps[1]).toMatchObject({
      entries: entries.filter(({ type }) => type === 'light').length,
      samples: [{ pointer: '/title' }, {}, {}],
    });
    expect([told.lost.length, told.errorsBefore, told.errorsAfter].every((count) => count > 5)).toBe(true);
    const { changes } = await both(['check', '--since', '1']);
    expect(changes.length).toBeGreaterThan(2);

    title('"entry.range < 28 ? entry.name : string(1 / (entry.range - entry.range))"');
    const refused = await lumbrik(folder, ['migration', 'rehearse'], several);
    expect(refused).toEqual(await lumbrik(folder, ['migration', 'rehearse'], { LUMBRIK_THREADS: '1' }));
    expect(refused).toMatchObject({ code: 2, err: expect.stringContaining('cannot be computed for light/light-') });
  });

  test('one that ends early is told, and never that all is well', () => {
    const broken = temporary();
    fs.cpSync(path.join(root, 'dist'), path.join(broken, 'dist'), { recursive: true });
    fs.copyFileSync(path.join(root, 'package.json'), path.join(broken, 'package.json'));
    const folder = workspace({
      ...model,
      'lumbrik.yaml': 'workspace: W\ncontent: [{ lines: content/all.ndjson }]\n',
      'content/all.ndjson': asLines(lights(7000)),
    });
    const ends = [
      'process.exit(0)',
      'process.exit(9)',
      'throw new TypeError("no")',
      'void new Promise(() => undefined)',
    ];
    for (const end of ends) {
      write(broken, { 'dist/thread.js': `${end};\n` });
      const { code, out, err } = started(folder, ['check'], {
        env: several,
        program: path.join(broken, 'dist/cli.js'),
      });
      expect(out).not.toContain('All fine');
      expect([end, code]).toEqual([end, end.startsWith('throw') ? 70 : 2]);
      if (!end.startsWith('throw')) expect(err).toContain('ended before it was done');
    }
  });

  test('what is found is told while it lasts, and is what is found at the end [I5]', async () => {
    const lines = (count: number): string => `${asLines(keepers)}${asLines(lights(count))}not an entry\n`;
    const settings = 'workspace: W\nfindings: { severity: { too-long: ignore, unknown-field: warning } }\n';
    for (const [file, content] of [
      ['content/all.ndjson', lines(6000)],
      ['content/all.ndjson.gz', gzipSync(lines(1500))],
    ] as const) {
      const folder = workspace({
        ...model,
        'lumbrik.yaml': `${settings}content: [{ lines: ${file} }]\n`,
        [file]: content,
      });
      const { findings, mistakes, ...all } = await result(folder, ['check']);
      const { out, code } = await lumbrik(folder, ['check', '--format', 'ndjson'], several);
      const told = out
        .trimEnd()
        .split('\n')
        .map((line) => JSON.parse(line));
      const sorted = (some: readonly object[]) => some.map((one) => JSON.stringify(one)).sort();
      expect(findings.length).toBeGreaterThan(100);
      expect(sorted(told.slice(0, -1).map(({ finding }) => finding))).toEqual(sorted(findings));
      expect([mistakes, { ...told.at(-1)?.result, code }]).toEqual([[], all]);
    }
  });

  test('Ctrl-C leaves what was told until then, and a last line that says so [I5]', async () => {
    const folder = workspace({
      ...model,
      'lumbrik.yaml': 'workspace: W\ncontent: [{ lines: content/all.ndjson }]\n',
      'content/all.ndjson': asLines(lights(40_000)),
    });
    const child = spawn(process.execPath, [program, 'check', '--format', 'ndjson'], {
      cwd: folder,
      env: { ...process.env, ...several },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    let out = '';
    child.stdout.on('data', (bytes) => {
      if (out === '') child.kill('SIGINT');
      out += bytes;
    });
    const [code] = await once(child, 'close');
    const told = out
      .trimEnd()
      .split('\n')
      .map((line) => JSON.parse(line));
    expect([code, told.at(-1)?.result.stopped]).toEqual([130, true]);
    expect(told.at(-1)?.result.entries).toBeLessThan(40_000);
    expect(told.at(-1)?.result.summary.reduce((sum: number, { count }: any) => sum + count, 0)).toBe(told.length - 1);
  });

  test('Ctrl-C ends them all', async () => {
    const folder = workspace({
      ...model,
      'lumbrik.yaml': 'workspace: W\ncontent: [{ lines: content/all.ndjson }]\n',
      'content/all.ndjson': asLines(lights(40_000)),
    });
    const child = spawn(process.execPath, [program, 'check'], {
      cwd: folder,
      env: { ...process.env, ...several },
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    let out = '';
    child.stdout.on('data', (bytes) => {
      out += bytes;
    });
    const ended = once(child, 'close');
    // Once the first part is kept, the threads are at work.
    while (!fs.existsSync(path.join(folder, '.lumbrik/memory')))
      await new Promise((resolve) => setTimeout(resolve, 10));
    child.kill('SIGINT');
    const [code] = await ended;
    expect([code, out.includes('Stopped, as you asked'), out.includes('All fine')]).toEqual([130, true, false]);
  });
});
