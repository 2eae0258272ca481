import { type ChildProcessByStdio, spawn, spawnSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import type { Writable } from 'node:stream';
import { pathToFileURL } from 'node:url';

/**
 * What differs between operating systems and file systems: how a file takes the place of another one that somebody holds
 * open, how a path becomes an address, where browsers are, how an editor is started. Loaded in each call: it is on
 * nothing else.
 */

/** Whether the program runs on Windows. */
export const isWindows = (): boolean => process.platform === 'win32';

/** What Windows says of a file that an editor or a scanner holds open for a moment. */
const heldCodes = new Set(['EPERM', 'EBUSY', 'EACCES']);

/** So long is it tried again, in ms. */
const patience = 2000;

const codeOf = (error: unknown): string => String((error as Partial<NodeJS.ErrnoException>).code);

/** Does something with a file that another program may hold open: on Windows it is tried again for two seconds. */
function whileHeld<T>(act: () => T): T {
  for (let waited = 0, pause = 10; ; waited += pause, pause = Math.min(2 * pause, 200))
    try {
      return act();
    } catch (error) {
      if (!isWindows() || !heldCodes.has(codeOf(error)) || waited >= patience) throw error;
      Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, pause);
    }
}

/** Gives a file the name of another one, which is gone then: in one instant. Throws what the system says. */
export const renameOver = (from: string, to: string): void => whileHeld(() => fs.renameSync(from, to));

/** Removes a file, if it is there. Throws what the system says. */
export const removeIfThere = (file: string): void => whileHeld(() => fs.rmSync(file, { force: true }));

/** What file systems say that know no second name for a file. */
const cannotLink = new Set(['EPERM', 'ENOTSUP', 'EOPNOTSUPP', 'ENOSYS', 'EMLINK', 'EINVAL', 'EXDEV']);

/**
 * Puts a file into a place where none may be, so that it is never there in part: by a second name for the written file
 * beside; where the file system knows none, in one go.
 * @returns false where something is there already. Throws what else the system says.
 */
export function placeNew(file: string, content: string, { beside, mode }: { beside: string; mode?: number }): boolean {
  try {
    fs.writeFileSync(beside, content, { flag: 'wx', mode });
    try {
      fs.linkSync(beside, file);
    } catch (error) {
      if (!cannotLink.has(codeOf(error))) throw error;
      fs.writeFileSync(file, content, { flag: 'wx', mode });
    } finally {
      fs.rmSync(beside, { force: true });
    }

    return true;
  } catch (error) {
    if (codeOf(error) === 'EEXIST') return false;
    throw error;
  }
}

/** The sign that Node puts in a name for bytes that are no UTF-8: such a name leads to no file. */
export const noText = '\uFFFD';

/** The address of a file, as browsers take it: with every sign of its path in it. */
export const fileAddress = (file: string): string => pathToFileURL(file).href;

/** Browsers that take pictures of pages without a window: by the names of their programs, then by their usual places. */
export function browserPrograms(): readonly string[] {
  const names = ['chromium', 'chromium-browser', 'google-chrome', 'chrome', 'microsoft-edge'];
  if (process.platform === 'darwin')
    return [
      ...names,
      ...['Google Chrome', 'Chromium', 'Microsoft Edge'].map(
        (name) => `/Applications/${name}.app/Contents/MacOS/${name}`,
      ),
    ];
  if (!isWindows()) return names;

  const { ProgramFiles, 'ProgramFiles(x86)': programFilesX86, LOCALAPPDATA } = process.env;
  const places = [ProgramFiles, programFilesX86, LOCALAPPDATA].flatMap((place) => place ?? []);

  return [
    ...names,
    ...places.flatMap((place) => [
      path.win32.join(place, 'Google/Chrome/Application/chrome.exe'),
      path.win32.join(place, 'Chromium/Application/chrome.exe'),
      path.win32.join(place, 'Microsoft/Edge/Application/msedge.exe'),
    ]),
  ];
}

/** The program that shows a text page by page where nobody named another one; empty where there is none. */
export const usualPager = (): string => {
  if (isWindows()) return '';
  return 'less';
};

/** Starts such a program, as a shell reads its name. It ends with 127 where there is none. */
export function startPager(
  pager: string,
  env: Readonly<Record<string, string>>,
): ChildProcessByStdio<Writable, null, null> {
  const [name = ''] = pager.split(' ');
  const [program, args] = isWindows()
    ? [pager, []]
    : ['sh', ['-c', `command -v ${name} >/dev/null || exit 127; ${pager}`]];

  return spawn(program, args, {
    stdio: ['pipe', 'inherit', 'inherit'],
    env: { ...process.env, ...env },
    shell: isWindows(),
  });
}

/**
 * Starts the editor of a person, as a shell reads its name, with options to itself, and waits for its end.
 * @returns whether it ended well.
 */
export function startEditor(editor: string, args: readonly string[]): boolean {
  const ran = isWindows()
    ? spawnSync([editor, ...args.map((arg) => `"${arg}"`)].join(' '), { shell: true, stdio: 'inherit' })
    : spawnSync('sh', ['-c', `${editor} "$@"`, editor, ...args], { stdio: 'inherit' });
  return ran.status === 0;
}
