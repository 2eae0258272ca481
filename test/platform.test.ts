import fs from 'node:fs';
import path from 'node:path';
import { afterEach, describe, expect, test, vi } from 'vitest';
import {
  browserPrograms,
  fileAddress,
  placeNew,
  removeIfThere,
  renameOver,
  usualPager,
} from '../src/workspace/platform.ts';
import { temporary } from './support/program.ts';

const { platform } = process;
const on = (name: NodeJS.Platform): void => void Object.defineProperty(process, 'platform', { value: name });
afterEach(() => {
  on(platform);
  vi.restoreAllMocks();
});

/** Has a function of the file system fail some times as the system of another platform would. */
function failing(name: 'renameSync' | 'rmSync' | 'linkSync', code: string, times: number): () => number {
  const real = fs[name] as (...args: readonly unknown[]) => unknown;
  let calls = 0;
  vi.spyOn(fs, name).mockImplementation(((...args: readonly unknown[]) => {
    calls += 1;
    if (calls <= times) throw Object.assign(new Error(`${code}: held`), { code });
    return real(...args);
  }) as never);
  return () => calls;
}

describe('files that another program holds open on Windows [M2]', () => {
  test.each(['EPERM', 'EBUSY', 'EACCES'])('%s: a file is replaced once it is let go', (code) => {
    const folder = temporary();
    const [from, to] = [path.join(folder, 'a'), path.join(folder, 'b')];
    fs.writeFileSync(from, 'new');
    fs.writeFileSync(to, 'old');
    on('win32');
    const calls = failing('renameSync', code, 3);
    renameOver(from, to);
    expect([fs.readFileSync(to, 'utf8'), calls()]).toEqual(['new', 4]);
  });

  test('one that is never let go is told as it is, and stays as it was', () => {
    const folder = temporary();
    const [from, to] = [path.join(folder, 'a'), path.join(folder, 'b')];
    fs.writeFileSync(from, 'new');
    fs.writeFileSync(to, 'old');
    on('win32');
    const calls = failing('renameSync', 'EBUSY', Number.POSITIVE_INFINITY);
    expect(() => renameOver(from, to)).toThrow('EBUSY');
    expect([fs.readFileSync(to, 'utf8'), calls() > 5]).toEqual(['old', true]);
  });

  test('is waited for there alone, and for no other trouble', () => {
    for (const [where, code] of [
      ['linux', 'EBUSY'],
      ['darwin', 'EPERM'],
      ['win32', 'ENOSPC'],
    ] as const) {
      on(where);
      const calls = failing('renameSync', code, 1);
      expect(() => renameOver('nowhere', 'elsewhere')).toThrow(code);
      expect(calls()).toBe(1);
      vi.restoreAllMocks();
    }
  });

  test('is removed once it is let go', () => {
    const file = path.join(temporary(), 'a');
    fs.writeFileSync(file, '');
    on('win32');
    failing('rmSync', 'EBUSY', 2);
    removeIfThere(file);
    removeIfThere(file);
    expect(fs.existsSync(file)).toBe(false);
  });
});

describe('what comes into a place where none may be', () => {
  test.each(['EPERM', 'ENOTSUP', 'EOPNOTSUPP', 'ENOSYS', 'EINVAL'])(
    '%s: where a file system knows no second name for a file, it is written there at once',
    (code) => {
      const folder = temporary();
      const [file, beside] = [path.join(folder, 'lock'), path.join(folder, 'beside')];
      failing('linkSync', code, Number.POSITIVE_INFINITY);
      expect(placeNew(file, 'ours', { beside })).toBe(true);
      expect(placeNew(file, 'theirs', { beside })).toBe(false);
      expect([fs.readFileSync(file, 'utf8'), fs.readdirSync(folder)]).toEqual(['ours', ['lock']]);
    },
  );

  test('no other trouble is passed over, and nothing is left of it', () => {
    const folder = temporary();
    failing('linkSync', 'ENOSPC', 1);
    expect(() => placeNew(path.join(folder, 'lock'), 'ours', { beside: path.join(folder, 'beside') })).toThrow(
      'ENOSPC',
    );
    expect(fs.readdirSync(folder)).toEqual([]);
  });
});

test('an address of a file has every sign of its path in it', () => {
  const file = '/tmp/a#b/c?d/100%/é.html';
  expect(new URL(fileAddress(file)).pathname).toBe('/tmp/a%23b/c%3Fd/100%25/%C3%A9.html');
});

test('a pager is usual where there is one', () => {
  on('win32');
  expect(usualPager()).toBe('');
  on('linux');
  expect(usualPager()).toBe('less');
});

test('browsers are looked for by their names, then in the usual places of the system', () => {
  on('linux');
  expect(browserPrograms().every((one) => !/[\\/]/u.test(one))).toBe(true);
  on('darwin');
  expect(browserPrograms()).toContain('/Applications/Chromium.app/Contents/MacOS/Chromium');
  on('win32');
  vi.stubEnv('ProgramFiles', 'C:\\Program Files');
  expect(browserPrograms()).toContain('C:\\Program Files\\Chromium\\Application\\chrome.exe');
  vi.unstubAllEnvs();
});
