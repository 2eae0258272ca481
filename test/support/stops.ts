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

/** A change of the disk that is about to happen: how many there were with it, what it is called, and how it is done. */
interface DiskChange {
  readonly count: number;
  readonly name: (typeof changes)[number];
  readonly call: readonly unknown[];
  readonly carryOut: () => unknown;
}

/**
 * Runs a command inside this process, with something done at each change of the disk.
 * @param act takes a change and what ends this, and gives what the change gives.
 */
async function watched(
  folder: string,
  args: readonly string[],
  act: (change: DiskChange, end: () => void) => unknown,
): Promise<Ran & { readonly count: number }> {
  let count = 0;
  const real = new Map(changes.map((name) => [name, fs[name]] as const));
  const restore = (): void => {
    Object.assign(fs, Object.fromEntries(real));
  };
  for (const [name, change] of real)
    (fs as unknown as Record<string, unknown>)[name] = (...call: unknown[]) => {
      const carryOut = () => Reflect.apply(change, fs, call);
      const isReading =
        name === 'openSync' && (call[1] === 'r' || (typeof call[1] === 'number' && (call[1] & 3) === 0));
      if (isReading) return carryOut();
      count += 1;
      return act({ count, name, call, carryOut }, restore);
    };
  try {
    return { ...(await lumbrik(folder, args)), count };
  } finally {
    restore();
  }
}

/**
 * Runs a command on a disk that stands still from some change on: nothing that the command does from then on, tidying up
 * included, leaves a trace, so that the disk is as if it had been ended there.
 * @param stopAt the change that does not happen any more, a write half; 0 for none.
 * @returns how many changes there were.
 */
async function halted(folder: string, args: readonly string[], stopAt: number): Promise<number> {
  const { count } = await watched(folder, args, ({ count: now, name, call, carryOut }) => {
    if (stopAt === 0 || now < stopAt) return carryOut();
    if (now === stopAt && name === 'writeFileSync') {
      const bytes = Buffer.from(call[1] as string);
      real.writeFileSync(call[0] as number, bytes.subarray(0, bytes.length >> 1));
    }
    throw new Error('the disk stands still');
  });
  if (stopAt > 0) leaveToTheDead(folder);
  return count;
}

const real = { writeFileSync: fs.writeFileSync };

/** Changes of the disk that need room on it. */
const needRoom: readonly string[] = [
  'mkdirSync',
  'openSync',
  'writeFileSync',
  'writeSync',
  'appendFileSync',
  'linkSync',
];

/** Runs a command on copies of a folder, each on a disk that is full from some change on, one after another. */
export async function allFull(
  start: string,
  args: readonly string[],
  look: (folder: string, ran: Ran, fullFrom: number) => Promise<void>,
): Promise<number> {
  for (let fullFrom = 1; ; fullFrom += 1) {
    const folder = copyOf(start);
    const ran = await watched(folder, args, ({ count, name, carryOut }) => {
      if (count < fullFrom || !needRoom.includes(name)) return carryOut();
      throw Object.assign(new Error('ENOSPC: no space left on device'), { code: 'ENOSPC' });
    });
    if (ran.count < fullFrom) return ran.count;
    // What is opened and never read may still fail.
    await new Promise((go) => setTimeout(go, 5));
    await look(folder, ran, fullFrom);
    fs.rmSync(folder, { recursive: true, force: true });
  }
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
    const ran = await watched(folder, args, ({ count, name, carryOut }, end) => {
      if (count !== saveAt) return carryOut();
      end();
      // A file that is renamed takes its place in one instant: what is saved then is saved before it or behind it.
      if (name !== 'renameSync') save(folder);
      const given = carryOut();
      if (name === 'renameSync') save(folder);
      return given;
    });
    if (ran.count < saveAt) return saveAt - 1;
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
