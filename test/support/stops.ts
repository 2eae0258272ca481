import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import names from './diskChanges.json' with { type: 'json' };
import { copyOf } from './migrated.ts';
import { lumbrik, type Ran, root, started, temporary } from './program.ts';

/** Loaded before the program: ends it at some change of the disk. */
export const killer = pathToFileURL(path.join(root, 'test/support/killAt.mjs')).href;

/** Runs a command that is ended at some change of the disk; 0 for not at all, which gives the number of changes. */
export function stopped(folder: string, args: readonly string[], killAt: number): number {
  const countIn = path.join(temporary(), 'count');
  started(folder, args, { node: ['--import', killer], env: { KILL_AT: String(killAt), COUNT_IN: countIn } });
  return killAt === 0 ? Number(fs.readFileSync(countIn, 'utf8')) : killAt;
}

/** Every file and folder in the tool's own folder, but for the records that may stay there. */
export const remains = (folder: string): readonly string[] =>
  fs
    .readdirSync(path.join(folder, '.lumbrik'), { recursive: true, encoding: 'utf8' })
    .filter((name) => !/^(?:\.gitignore|staging|runs|rehearsals)$|^(?:runs|rehearsals)\/(?!\.)/u.test(name))
    .sort();

/** The files below a folder that are on their way to their places. */
export const halfWritten = (folder: string): readonly string[] =>
  fs.readdirSync(folder, { recursive: true, encoding: 'utf8' }).filter((name) => name.endsWith('.lumbrik-new'));

/** Everything by which the program changes the disk. */
const changes = names as readonly `${'mkdir' | 'open' | 'writeFile' | 'rename' | 'rm'}Sync`[];

/**
 * Runs a command inside this process on a disk that stands still from some change on: nothing that the command does from
 * then on, tidying up included, leaves a trace, so that the disk is as if it had been ended there.
 * @param stopAt the change that does not happen any more, a write half; 0 for none.
 * @returns how many changes there were.
 */
async function halted(folder: string, args: readonly string[], stopAt: number): Promise<number> {
  let count = 0;
  const real = new Map(changes.map((name) => [name, fs[name]] as const));
  for (const [name, change] of real)
    (fs as unknown as Record<string, unknown>)[name] = (...call: unknown[]) => {
      if (name === 'openSync' && (call[1] === 'r' || (typeof call[1] === 'number' && (call[1] & 3) === 0)))
        return Reflect.apply(change, fs, call);
      count += 1;
      if (stopAt === 0 || count < stopAt) return Reflect.apply(change, fs, call);
      if (count === stopAt && name === 'writeFileSync') {
        const bytes = Buffer.from(call[1] as string);
        Reflect.apply(change, fs, [call[0], bytes.subarray(0, bytes.length >> 1)]);
      }
      throw new Error('the disk stands still');
    };
  try {
    await lumbrik(folder, args);
  } finally {
    Object.assign(fs, Object.fromEntries(real));
  }
  if (stopAt > 0) leaveToTheDead(folder);
  return count;
}

/**
 * Runs a command inside this process, and has another program save files right before some change of the disk.
 * @param saveAt the change before which they are saved.
 * @returns whether there was such a change.
 */
async function interrupted(folder: string, args: readonly string[], saveAt: number, save: () => void): Promise<Saved> {
  let count = 0;
  const real = new Map(changes.map((name) => [name, fs[name]] as const));
  const restore = (): void => {
    Object.assign(fs, Object.fromEntries(real));
  };
  for (const [name, change] of real)
    (fs as unknown as Record<string, unknown>)[name] = (...call: unknown[]) => {
      const onlyReads =
        name === 'openSync' && (call[1] === 'r' || (typeof call[1] === 'number' && (call[1] & 3) === 0));
      if (!onlyReads) count += 1;
      // What is put in a file's place at this very moment cannot be told from what was saved before: the rename comes first.
      if (!onlyReads && count === saveAt && name !== 'renameSync') {
        restore();
        save();
      }
      const result = Reflect.apply(change, fs, call);
      if (!onlyReads && count === saveAt && name === 'renameSync') {
        restore();
        save();
      }
      return result;
    };
  try {
    const ran = await lumbrik(folder, args);
    return { ...ran, wasSaved: count >= saveAt };
  } finally {
    restore();
  }
}

interface Saved extends Ran {
  readonly wasSaved: boolean;
}

/** Runs a command on copies of a folder, each with files saved by another program at one of its changes of the disk. */
export async function allSaves(
  start: string,
  args: readonly string[],
  save: (folder: string) => void,
  look: (folder: string, ran: Ran, saveAt: number) => Promise<void>,
): Promise<number> {
  for (let saveAt = 1; ; saveAt += 1) {
    const folder = copyOf(start);
    const { wasSaved, ...ran } = await interrupted(folder, args, saveAt, () => save(folder));
    if (!wasSaved) return saveAt - 1;
    await look(folder, ran, saveAt);
    fs.rmSync(folder, { recursive: true, force: true });
  }
}

let dead: number | undefined;

/** Makes what this process left behind in a folder that of a process which is no more. */
function leaveToTheDead(folder: string): void {
  dead ??= spawnSync(process.execPath, ['-e', '0']).pid;
  const own = path.join(folder, '.lumbrik');
  if (!fs.existsSync(own)) return;
  for (const name of fs.readdirSync(own).filter((one) => /^lock(?:-|$)/u.test(one))) {
    const file = path.join(own, name);
    fs.writeFileSync(file, fs.readFileSync(file, 'utf8').replaceAll(String(process.pid), String(dead)));
    fs.renameSync(file, path.join(own, name.replace(String(process.pid), String(dead))));
  }
}

/** Runs a command on copies of a folder, halted at each change of the disk, one after another. */
export async function allStops(
  start: string,
  args: readonly string[],
  look: (folder: string, stopAt: number) => Promise<void>,
): Promise<number> {
  const count = await halted(copyOf(start), args, 0);
  for (let stopAt = 1; stopAt <= count; stopAt += 1) {
    const folder = copyOf(start);
    await halted(folder, args, stopAt);
    await look(folder, stopAt);
    fs.rmSync(folder, { recursive: true, force: true });
  }
  return count;
}
