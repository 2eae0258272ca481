import { spawn, spawnSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { build } from 'rolldown';
import { describe, expect, test } from 'vitest';
import { lumbrik, plainEnv, program, read, result, root, workspace, write } from './support/program.ts';

const model = { 'model/types/light.yaml': 'type: light\nfields:\n  name: { kind: text }\n' };

/** The number of a process that is gone. */
const deadPid = (): number => spawnSync(process.execPath, ['-e', '0']).pid;

const start = (folder: string, args: readonly string[]): Promise<number | null> =>
  new Promise((resolve) => {
    spawn(process.execPath, [program, ...args], { cwd: folder, env: plainEnv, stdio: 'ignore' }).on('close', resolve);
  });

describe('a lock that a crash left [A5]', () => {
  test('is taken over by one process alone: no field of several that are added at once is lost', async () => {
    const folder = workspace(model);
    for (let round = 0; round < 6; round += 1) {
      write(folder, { '.lumbrik/lock': `${deadPid()} ${os.hostname()}` });
      const names = Array.from({ length: 4 }, (_, index) => `field${round}x${index}`);
      const codes = await Promise.all(
        names.map((name) => start(folder, ['add', 'field', 'light', name, '--kind', 'text'])),
      );
      const kept = names.filter((name) => read(folder, 'model/types/light.yaml').includes(`${name}:`));
      expect(kept).toEqual(names.filter((_, index) => codes[index] === 0));
      expect(kept.length).toBeGreaterThan(0);
      expect(codes.every((code) => code === 0 || code === 3)).toBe(true);
    }
    expect(fs.readdirSync(path.join(folder, '.lumbrik')).filter((name) => name.startsWith('lock'))).toEqual([]);
  });

  test('by twenty at once, two hundred times', async () => {
    // The contenders are processes that do nothing but take the lock: each says when it has it and when it gives it up.
    const folder = workspace(model);
    const contender = path.join(folder, 'contend.mjs');
    await build({
      input: path.join(root, 'test/support/contend.ts'),
      platform: 'node',
      logLevel: 'warn',
      output: { file: contender, format: 'esm' },
    });
    write(folder, { 'order.txt': '' });
    const dead = deadPid();
    const rounds = 200;
    const ended = await Promise.all(
      Array.from({ length: 20 }, () => contend(contender, [folder, String(rounds), String(dead)])),
    );
    expect(ended).toEqual(Array.from({ length: 20 }, () => 0));
    const told = read(folder, 'order.txt').trim().split('\n');
    // Never two at once: each line that says "in" is followed by "out" of the same process.
    for (let line = 0; line < told.length; line += 2) {
      const [pid] = told[line]?.split(' ') ?? [];
      expect([told[line], told[line + 1]]).toEqual([`${pid} in`, `${pid} out`]);
    }
    expect(told.length / 2).toBeGreaterThanOrEqual(rounds);
  });

  test('counts for nothing where its number is a later process’s by now', async () => {
    const folder = workspace(model);
    write(folder, { '.lumbrik/lock': `${process.pid} ${os.hostname()} 1` });
    const isTold = fs.existsSync('/proc/self/stat');
    expect((await lumbrik(folder, ['seal', '-m', 'x'])).code).toBe(isTold ? 0 : 3);
  });
});

function contend(file: string, args: readonly string[]): Promise<number | null> {
  return new Promise((resolve) => {
    const child = spawn(process.execPath, [file, ...args], {
      env: plainEnv,
      stdio: ['ignore', 'ignore', 'inherit'],
    });
    child.on('close', resolve);
  });
}

describe('a lock that is held, or is none', () => {
  test('of a living process, here or on another machine', async () => {
    const folder = workspace(model);
    for (const lock of [`${process.pid} ${os.hostname()}`, '7 another-machine']) {
      write(folder, { '.lumbrik/lock': lock });
      expect(await result(folder, ['seal', '-m', 'x'])).toMatchObject({ code: 3, error: { code: 'locked' } });
      expect(read(folder, '.lumbrik/lock')).toBe(lock);
    }
  });

  test.each([
    ['garbage', 'no lock that lumbrik wrote'],
    ['', 'no lock that lumbrik wrote'],
    ['{"pid":1}', 'no lock that lumbrik wrote'],
  ])('garbage is said in words: %j', async (text, says) => {
    const folder = workspace(model);
    write(folder, { '.lumbrik/lock': text });
    const { code, error } = await result(folder, ['seal', '-m', 'x']);
    expect([code, error.code]).toEqual([3, 'unusable-lock']);
    expect(error.says).toContain(says);
    expect(read(folder, '.lumbrik/lock')).toBe(text);
  });

  test('a link and a folder too', async () => {
    const folder = workspace({ ...model, 'other.txt': 'x' });
    fs.mkdirSync(path.join(folder, '.lumbrik/lock'), { recursive: true });
    expect(await result(folder, ['seal', '-m', 'x'])).toMatchObject({
      code: 3,
      error: { says: expect.stringContaining('is a folder') },
    });
    fs.rmdirSync(path.join(folder, '.lumbrik/lock'));
    fs.symlinkSync('../other.txt', path.join(folder, '.lumbrik/lock'));
    expect(await result(folder, ['seal', '-m', 'x'])).toMatchObject({
      code: 3,
      error: { says: expect.stringContaining('is a symbolic link') },
    });
    expect(read(folder, 'other.txt')).toBe('x');
  });
});
