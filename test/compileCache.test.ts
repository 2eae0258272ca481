import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { plainEnv, program, started, temporary } from './support/program.ts';

/* Compiled code is kept between calls. Node does it by itself from version 22 on, in files of its own form. */
const isOurTask = Number(process.versions.node.split('.')[0]) < 22;

describe.runIf(isOurTask && !process.env.NODE_V8_COVERAGE)('compiled code that is kept', () => {
  const home = () => ({ XDG_CACHE_HOME: temporary(), XDG_STATE_HOME: temporary() });
  const help = (env: Readonly<Record<string, string>>) => started(temporary(), ['check', '--help'], { env });
  /** What lies there of the one build that is tested: by name, when it was written. */
  const keptIn = (env: { readonly XDG_CACHE_HOME: string }) => {
    const [build = ''] = fs.readdirSync(path.join(env.XDG_CACHE_HOME, 'lumbrik'));
    const folder = path.join(env.XDG_CACHE_HOME, 'lumbrik', build);
    return new Map(
      fs
        .readdirSync(folder)
        .map((name) => [path.join(folder, name), fs.statSync(path.join(folder, name), { bigint: true }).mtimeNs]),
    );
  };
  const code = (env: { readonly XDG_CACHE_HOME: string }) => [...keptIn(env)].filter(([file]) => file.endsWith('.js'));

  test('is taken by the next call, which writes nothing', () => {
    const env = home();
    const first = help(env);
    const kept = keptIn(env);
    expect(kept.size).toBeGreaterThan(3);
    for (const [file] of code(env)) expect(fs.statSync(file).mode & 0o077).toBe(0);
    expect(help(env)).toEqual(first);
    expect(keptIn(env)).toEqual(kept);
  });

  test('is kept for what a later call loads besides', () => {
    const env = home();
    help(env);
    const before = code(env).length;
    started(temporary(), ['new', 'w'], { env });
    expect(code(env).length).toBeGreaterThan(before);
  });

  test('is made anew where a bit of it is another one, or where it is cut', () => {
    const env = home();
    const first = help(env);
    for (const [index, [file]] of code(env).entries()) {
      const content = fs.readFileSync(file);
      if (index % 2 === 0) content.writeUInt8(content.readUInt8(content.length >> 1) ^ 1, content.length >> 1);
      fs.writeFileSync(file, index % 2 === 0 ? content : content.subarray(0, content.length >> 1));
      fs.utimesSync(file, 0, 0);
    }
    expect(help(env)).toEqual(first);
    for (const [file, written] of code(env)) expect([file, written]).not.toEqual([file, 0n]);
  });

  test('is not believed where another account marked it', () => {
    const env = home();
    const first = help(env);
    for (const [file] of code(env)) fs.utimesSync(file, 0, 0);
    expect(help({ ...env, XDG_STATE_HOME: temporary() })).toEqual(first);
    for (const [file, written] of code(env)) expect([file, written]).not.toEqual([file, 0n]);
  });

  test('is missed by nobody where nothing can be written', () => {
    const env = home();
    const first = help(env);
    const file = path.join(temporary(), 'file');
    fs.writeFileSync(file, '');
    expect(help({ ...env, XDG_CACHE_HOME: file })).toEqual(first);
    expect(help({ XDG_CACHE_HOME: temporary(), XDG_STATE_HOME: file })).toEqual(first);
    expect(fs.readFileSync(file, 'utf8')).toBe('');
  });

  test.runIf(fs.existsSync('/proc/self'))('is no reason to try for ever where the system takes no folder', () => {
    const env = home();
    const first = help(env);
    expect(help({ ...env, XDG_CACHE_HOME: '/proc/none' })).toEqual(first);
    expect(help({ ...env, XDG_STATE_HOME: '/proc/none' })).toEqual(first);
  });

  test('of older builds goes: four are kept', () => {
    const env = home();
    for (const age of [1, 2, 3, 4, 5, 6]) {
      const old = path.join(env.XDG_CACHE_HOME, 'lumbrik', `build-${age}`);
      fs.mkdirSync(old, { recursive: true });
      fs.utimesSync(old, 1_000_000 - age, 1_000_000 - age);
    }
    help(env);
    const left = fs.readdirSync(path.join(env.XDG_CACHE_HOME, 'lumbrik')).filter((name) => name.startsWith('build-'));
    expect(left.sort()).toEqual(['build-1', 'build-2', 'build-3']);
  });

  test('is none where errors are asked for with our own names', () => {
    const env = home();
    started(temporary(), ['check', '--help', '--debug'], { env });
    expect(fs.readdirSync(env.XDG_CACHE_HOME)).toEqual([]);
  });

  test('is dropped where a process that used it is gone without a word, as one is that crashed on it', () => {
    const env = home();
    const first = help(env);
    for (const [file] of code(env)) fs.utimesSync(file, 0, 0);
    const [[some] = ['']] = code(env);
    const gone = spawnSync(process.execPath, ['-e', '']).pid;
    fs.writeFileSync(path.join(path.dirname(some), `in-use-${process.pid}`), '');
    expect(help(env)).toEqual(first);
    for (const [file, written] of code(env)) expect([file, written]).toEqual([file, 0n]);
    fs.writeFileSync(path.join(path.dirname(some), `in-use-${gone}`), '');
    expect(help(env)).toEqual(first);
    expect(code(env).length).toBeGreaterThan(3);
    for (const [file, written] of code(env)) expect([file, written]).not.toEqual([file, 0n]);
    expect(fs.readdirSync(path.dirname(some)).filter((name) => name.startsWith('in-use-'))).toEqual([]);
  });

  test('is kept apart for each engine, whatever tag it gives its code', () => {
    const env = home();
    help(env);
    // The same engine in another place stands for another one: it cannot be told that it is the same.
    const other = path.join(temporary(), 'node');
    fs.copyFileSync(process.execPath, other);
    fs.chmodSync(other, 0o755);
    const ran = spawnSync(other, [program, 'check', '--help'], { cwd: temporary(), env: { ...plainEnv, ...env } });
    expect(ran.status).toBe(0);
    expect(fs.readdirSync(path.join(env.XDG_CACHE_HOME, 'lumbrik'))).toHaveLength(2);
  });

  test('is kept apart for other settings of the engine', () => {
    const env = home();
    help(env);
    started(temporary(), ['check', '--help'], { env, node: ['--no-opt'] });
    expect(fs.readdirSync(path.join(env.XDG_CACHE_HOME, 'lumbrik'))).toHaveLength(2);
  });
});
