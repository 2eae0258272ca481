import { spawn } from 'node:child_process';
import { once } from 'node:events';
import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { foundText, progressText } from '../src/view/progress.ts';
import { edit, program, read, result, workspace, write } from './support/program.ts';
import { Random } from './support/random.ts';

const numbers = (seed: number): (() => number) => {
  const random = new Random(seed);
  return () => random.next();
};

const model = {
  'model/types/light.yaml':
    'type: light\nfields:\n  name: { kind: text, unique: true, max: 20 }\n  range: { kind: integer, max: 39 }\n  near: { kind: reference, to: light }\n  more: { kind: text }\n',
};

const entry = (number: number, next: () => number): string =>
  JSON.stringify({
    id: `light-${number}`,
    name: next() < 0.01 ? 'The same' : `Light ${number}`,
    range: Math.floor(next() * 41),
    near: `light-${Math.floor(next() * 8_160)}`,
    more: 'x'.repeat(Math.floor(next() * 1500)),
  });

/** Two megabytes are a part: of several of them those that did not change are not read again. */
function lines(next: () => number): string[] {
  return Array.from({ length: 8_000 }, (_, number) => entry(number, next));
}

const kept = (folder: string): readonly string[] => {
  const parts = path.join(folder, '.lumbrik/memory');
  return fs.existsSync(parts)
    ? fs
        .readdirSync(parts)
        .flatMap((space) => fs.readdirSync(path.join(parts, space)))
        .sort()
    : [];
};

describe('what did not change is not checked again [K3]', () => {
  test('and the result is the same as without, whatever is edited', async () => {
    const next = numbers(20_261_126);
    const folder = workspace({
      ...model,
      'lumbrik.yaml': 'workspace: W\ncontent: [{ lines: content/all.ndjson, type: light }]\n',
    });
    const file = path.join(folder, 'content/all.ndjson');
    const all = lines(next);
    const pick = (): number => Math.floor(next() * all.length);
    const edits: readonly (() => void)[] = [
      () => undefined,
      () => {
        all[pick()] = entry(pick(), next);
      },
      () => all.splice(pick(), 1),
      () => all.splice(0, 0, entry(30_000, next), ''),
      () => all.push(entry(30_001, next)),
      () => {
        all[pick()] = 'no entry';
      },
      () => edit(folder, 'model/types/light.yaml', 'max: 39', 'max: 30'),
      () => all.splice(pick(), 3),
      () => edit(folder, 'model/types/light.yaml', 'unique: true, ', ''),
    ];
    let reused = 0;
    for (const act of edits) {
      act();
      fs.mkdirSync(path.dirname(file), { recursive: true });
      fs.writeFileSync(file, `${all.join('\n')}\n`);
      const before = new Set(kept(folder));
      const told = await result(folder, ['check']);
      reused += kept(folder).filter((key) => before.has(key)).length;
      fs.rmSync(path.join(folder, '.lumbrik'), { recursive: true, force: true });
      const anew = await result(folder, ['check']);
      expect(JSON.stringify(told) === JSON.stringify(anew)).toBe(true);
    }
    // Most parts were not read again, but where the model changed.
    expect(reused).toBeGreaterThan(8);
  });

  test('also what entries say of each other, where an edit leaves that as it is or moves it', async () => {
    const next = numbers(20_261_127);
    const pick = (most: number): number => Math.floor(next() * most);
    const folder = workspace({
      'model/types/light.yaml':
        'type: light\nfields:\n  name: { kind: text, unique: true }\n  more: { kind: text }\n  near: { kind: reference, to: light }\n  any: { kind: reference, to: [light, buoy], many: true }\n',
      'model/types/buoy.yaml': 'type: buoy\nfields:\n  name: { kind: text }\n',
      'model/types/harbour.yaml': 'type: harbour\nsingle: true\nfields:\n  name: { kind: text }\n',
      'lumbrik.yaml': 'workspace: W\ncontent: [{ lines: content/all.ndjson, type: light }]\n',
    });
    const light = (number: number) => ({
      id: `light-${number}`,
      name: number % 503 === 5 ? 'The same' : `Light ${number}`,
      more: 'x'.repeat(pick(2000)),
      near: `light-${number % 379 === 7 ? number + 900_000 : pick(5_000)}`,
      ...(number % 499 === 3 ? { any: [`light-${pick(5_000)}`, `light/light-${number}`] } : {}),
    });
    const all: object[] = Array.from({ length: 5_000 }, (_, number) => light(number));
    const put = (at: number, change: (one: any) => object): void => {
      all[at] = change(all[at]);
    };
    /** One of those that something is wrong with beside others, as often as not. */
    const some = (): number => (next() < 0.5 ? pick(all.length) : (Math.floor(pick(13)) * 379 + 7) % all.length);
    const edits: readonly (() => void)[] = [
      () => put(some(), (one) => ({ ...one, more: `${one.more} and more` })),
      () => put(some(), (one) => ({ ...one, more: '' })),
      () => put(some(), ({ id, ...others }) => ({ id, first: 1, ...others })),
      () => put(some(), ({ near, ...others }) => ({ near, ...others })),
      () => put(some(), (one) => ({ ...one, any: [`light-${pick(7_500)}`] })),
      () => put(some(), (one) => ({ ...one, near: `light-${pick(7_500)}` })),
      () => put(some(), (one) => ({ ...one, id: `light-${pick(5_000)}` })),
      () => all.splice(some(), 1),
      () => all.splice(some(), 0, light(500_000 + pick(1000)), light(7)),
      () => all.reverse(),
      () => all.push({ id: 'h', type: 'harbour', name: 'H' }),
    ];
    const save = (): void =>
      fs.writeFileSync(path.join(folder, 'content/all.ndjson'), all.map((one) => `${JSON.stringify(one)}\n`).join(''));
    fs.mkdirSync(path.join(folder, 'content'));
    let findings = 0;
    for (const act of [...edits, ...Array.from({ length: 6 }, () => edits[pick(7)] ?? (() => undefined))]) {
      act();
      save();
      const told = await result(folder, ['check']);
      fs.renameSync(path.join(folder, '.lumbrik'), path.join(folder, '.kept'));
      const anew = await result(folder, ['check']);
      fs.rmSync(path.join(folder, '.lumbrik'), { recursive: true });
      fs.renameSync(path.join(folder, '.kept'), path.join(folder, '.lumbrik'));
      expect([String(act), JSON.stringify(told)]).toEqual([String(act), JSON.stringify(anew)]);
      findings += told.findings.length;
    }
    expect(findings).toBeGreaterThan(500);
  });

  test('files that change places', async () => {
    const files = Array.from({ length: 10 }, (_, number) => `content/${number}.ndjson`);
    const folder = workspace({
      ...model,
      'lumbrik.yaml': `workspace: W\ncontent: [${files.map((file) => `{ lines: ${file}, type: light }`).join(', ')}]\n`,
      ...Object.fromEntries(
        files.map((file, number) => [
          file,
          `{"id":"a-${number}","name":"A ${number}","range":${number === 3 ? 99 : 9}}\n{"id":"b-${number}","near":"a-${number * 2}"}\n`,
        ]),
      ),
    });
    const several = { LUMBRIK_THREADS: '2' };
    const [third = '', last = ''] = [files[3], files[9]].map((file) => path.join(folder, file ?? ''));
    await result(folder, ['check'], several);
    fs.renameSync(third, `${third}.other`);
    fs.renameSync(last, third);
    fs.renameSync(`${third}.other`, last);
    const told = await result(folder, ['check'], several);
    expect(told.findings.map(({ entry: one, file }: any) => [one, file])).toEqual([
      ['light/b-9', 'content/3.ndjson'],
      ...[5, 6, 7, 8].map((number) => [`light/b-${number}`, `content/${number}.ndjson`]),
      ['light/a-3', 'content/9.ndjson'],
    ]);
  });

  test('what was damaged, forged or made by another model is not believed', async () => {
    const next = numbers(7);
    const folder = workspace({
      ...model,
      'lumbrik.yaml': 'workspace: W\ncontent: [{ lines: content/all.ndjson, type: light }]\n',
      'content/all.ndjson': `${lines(next).join('\n')}\n`,
    });
    const first = await result(folder, ['check']);
    const [space = ''] = fs.readdirSync(path.join(folder, '.lumbrik/memory'));
    const [one = '', other = ''] = kept(folder);
    const at = (name: string): string => path.join(folder, '.lumbrik/memory', space, name);
    const damages: readonly (() => void)[] = [
      () => fs.writeFileSync(at(one), fs.readFileSync(at(one)).fill(0x20, 200, 260)),
      () => fs.writeFileSync(at(one), fs.readFileSync(at(one)).subarray(0, 500)),
      () => fs.copyFileSync(at(other), at(one)),
      () => fs.writeFileSync(at(one), ''),
      () => {
        fs.rmSync(at(one));
        fs.mkdirSync(at(one));
      },
    ];
    for (const damage of damages) {
      damage();
      expect((await result(folder, ['check'])).findings.length).toBe(first.findings.length);
    }
  });

  test('files are known by their state; one that was just written is read again', async () => {
    const files = Object.fromEntries(
      Array.from({ length: 900 }, (_, number) => [`content/light/l-${number}.yaml`, `name: L ${number}\nrange: 3\n`]),
    );
    const folder = workspace({ ...model, 'lumbrik.yaml': 'workspace: W\n', ...files });
    expect((await result(folder, ['check'])).findings).toEqual([]);
    // Files that are as fresh as these may change within the same tick of the clock: they are not told by their state.
    await new Promise((resolve) => setTimeout(resolve, 2200));
    await result(folder, ['check']);
    const before = kept(folder);
    expect(before.length).toBeGreaterThan(1);
    edit(folder, 'content/light/l-5.yaml', 'range: 3', 'range: 99');
    const told = await result(folder, ['check']);
    expect(told.findings.map(({ entry: one, finding }: { entry: string; finding: string }) => [one, finding])).toEqual([
      ['light/l-5', 'too-large'],
    ]);
    fs.rmSync(path.join(folder, 'content/light/l-5.yaml'));
    write(folder, { 'content/light/l-6.yaml': 'name: L 7\nnear: l-5\n' });
    expect(
      (await result(folder, ['check'])).findings.map(({ finding }: { finding: string }) => finding).sort(),
    ).toEqual(['dangling-reference', 'not-unique']);
    expect(read(folder, '.lumbrik/.gitignore')).toBe('*\n');
  });
});

describe('check --watch [I1]', () => {
  test('checks again what changed, says a mistake and goes on, and ends with Ctrl-C', async () => {
    const folder = workspace({
      ...model,
      'lumbrik.yaml': 'workspace: W\n',
      'content/light/a.yaml': 'name: A\nrange: 50\n',
    });
    const child = spawn(process.execPath, [program, 'check', '--watch'], {
      cwd: folder,
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    let out = '';
    child.stdout.on('data', (bytes) => {
      out += bytes;
    });
    const ended = once(child, 'close');
    const until = async (text: string): Promise<void> => {
      for (let tries = 0; !out.includes(text); tries += 1) {
        if (tries > 600) throw new Error(`${text} did not come:\n${out}`);
        await new Promise((resolve) => setTimeout(resolve, 50));
      }
      out = '';
    };
    await until('range is 50');
    edit(folder, 'content/light/a.yaml', 'range: 50', 'range: 5');
    await until('All fine');
    edit(folder, 'model/types/light.yaml', 'max: 39', 'max: thirty');
    await until('1 mistake in the model');
    edit(folder, 'lumbrik.yaml', 'workspace: W', 'workspace: [');
    await until('lumbrik.yaml');
    edit(folder, 'lumbrik.yaml', 'workspace: [', 'workspace: W');
    edit(folder, 'model/types/light.yaml', 'max: thirty', 'max: 4');
    await until('range is 5, at most 4');
    child.kill('SIGINT');
    expect((await ended)[0]).toBe(0);
  });

  test('how far a long check is', () => {
    expect(progressText(1200, 2)).toBe('1,200 entries read, 600 a second');
    expect(progressText(500_000, 4, 0.5)).toBe('██████████░░░░░░░░░░ 500,000 entries read, 125,000 a second, 4 s left');
    expect(progressText(10, 10, 0.01)).toContain('17 min left');
  });

  test('how far a long check is, in a terminal of any width', () => {
    const texts = [80, 60, 40, 10].map((columns) => progressText(500_000, 4, 0.5, columns));
    expect(texts).toEqual([
      '██████████░░░░░░░░░░ 500,000 entries read, 125,000 a second, 4 s left',
      '500,000 entries read, 125,000 a second, 4 s left',
      '500,000 entries read, 4 s left',
      '500,000 e',
    ]);
    for (let columns = 5; columns < 120; columns++)
      for (const share of [undefined, 0, 0.3, 1])
        expect(progressText(1_234_567, 3, share, columns).length).toBeLessThan(columns);
  });

  test('and what is wrong so far, in one line', () => {
    const latest = 'content/lights.ndjson:7:12 unknown-field';
    expect(foundText({ count: 1, latest })).toBe(`1 finding so far, the latest: ${latest}`);
    expect(foundText({ count: 1200, latest: `${'long/'.repeat(40)}\n` }, 100)).toMatch(/^1,200 findings .*long.*…$/u);
    expect(foundText({ count: 1200, latest: `${'long/'.repeat(40)}\n` }, 100)).toHaveLength(99);
  });
});
