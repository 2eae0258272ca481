import { createHash, randomBytes } from 'node:crypto';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { isRunning } from './isRunning.ts';
import { makeOwnFolder, ownFolder, ownNames, removeOwn } from './ownFolder.ts';
import { placeNew } from './platform.ts';
import { refuse, systemCode, systemTrouble, Trouble } from './trouble.ts';

/** The name of the lock in the tool's own folder; whatever is on its way to being one begins with it and a hyphen. */
export const lockName = 'lock';
const lockFile = `${ownFolder}/${lockName}`;

/**
 * Does something while no other process writes to the workspace. A lock whose process is gone, on this machine, counts
 * for nothing: it was left by a crash.
 * @throws {Trouble} with exit code 3 where another process holds it.
 */
export async function withLock<T>(root: string, work: () => Promise<T> | T): Promise<T> {
  makeOwnFolder(root);
  const file = path.join(root, lockFile);
  take(file);
  try {
    removeRemains(root);
    return await work();
  } finally {
    release(file);
  }
}

/** Takes our lock away, and no other: somebody may have removed ours by hand. */
function release(file: string): void {
  const holder = look(file)?.holder;
  if (holder?.pid === process.pid && holder.host === os.hostname()) fs.rmSync(file, { force: true });
}

/**
 * Takes a lock. It is linked into place, so that it is never there without saying whose it is, and only one process can.
 *
 * One whose process is gone is removed by anyone who holds the lock *on that very lock*: a file named for its inode, time
 * and content. Nobody else may remove it, so nobody can remove by mistake the fresh one that took its place.
 */
function take(file: string): void {
  for (;;) {
    if (linkInto(file)) return;

    const holding = look(file);
    if (holding === undefined) continue;
    if (isAlive(holding.holder)) throw locked(holding.holder);

    const claim = `${file}-${holding.instance}`;
    take(claim);

    try {
      if (look(file)?.instance === holding.instance) fs.unlinkSync(file);
      if (linkInto(file)) return;
    } finally {
      fs.rmSync(claim, { force: true });
    }
  }
}

/** Puts our lock into place: it is never there without saying whose it is. @returns false where one is there. */
function linkInto(file: string): boolean {
  try {
    return placeNew(file, ourselves(), { beside: `${file}-${process.pid}-${randomBytes(4).toString('hex')}` });
  } catch (error) {
    throw systemTrouble(error, file);
  }
}

/** Takes away what processes left that ended while they took a lock. Called by anyone who holds it. */
function removeRemains(root: string): void {
  for (const name of ownNames(root, ownFolder).filter((ownName) => ownName.startsWith('lock-'))) {
    // A lock on its way into place has the process in its name, since there may be nothing in it yet.
    const pid = /-(\d+)-[0-9a-f]{8}$/u.exec(name)?.[1];
    const holder =
      pid === undefined ? look(path.join(root, ownFolder, name))?.holder : { pid: Number(pid), host: os.hostname() };
    if (holder && !isAlive(holder)) removeOwn(root, `${ownFolder}/${name}`);
  }
}

interface Holder {
  readonly pid: number;
  readonly host: string;
  /** When the process began, as the system counts; tells it from a later one with the same number. */
  readonly since?: string | undefined;
}

const ourselves = (): string => [process.pid, os.hostname(), startOf(process.pid)].filter(Boolean).join(' ');

/** A lock that is there. @throws {Trouble} where something else is instead of it. */
function look(file: string): { readonly holder: Holder; readonly instance: string } | undefined {
  try {
    const stat = fs.lstatSync(file, { bigint: true });
    if (!stat.isFile()) throw noLock(file, stat.isSymbolicLink() ? 'a symbolic link' : 'a folder');

    const text = fs.readFileSync(file, 'utf8');
    const [, pid, host, since] = /^([1-9]\d*) (\S+)(?: (\S+))?$/u.exec(text.trim()) ?? [];
    if (pid === undefined || host === undefined) throw noLock(file, 'no lock that lumbrik wrote');

    const instance = createHash('sha256').update(`${stat.ino} ${stat.mtimeNs} ${text}`).digest('hex').slice(0, 16);
    return { holder: { pid: Number(pid), host, since }, instance };
  } catch (error) {
    if (error instanceof Trouble) throw error;
    if (systemCode(error) === 'ENOENT') return undefined;
    throw systemTrouble(error, file);
  }
}

function isAlive({ pid, host, since }: Holder): boolean {
  if (host !== os.hostname()) return true;
  return isRunning(pid) && (since === undefined || (startOf(pid) ?? since) === since);
}

/** When a process began, in clock ticks since the system did (proc(5), field 22 of `stat`); nothing where that is not told. */
function startOf(pid: number): string | undefined {
  try {
    const stat = fs.readFileSync(`/proc/${pid}/stat`, 'utf8');
    return stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19];
  } catch {
    return undefined;
  }
}

const locked = ({ pid, host }: Holder) =>
  refuse('locked', `another lumbrik is writing to this workspace (process ${pid} on ${host})`, {
    mend: `Wait until it has finished. If it cannot be running any more, delete ${lockFile}.`,
  });

const noLock = (file: string, message: string) => {
  const name = `${ownFolder}/${path.basename(file)}`;
  return refuse('unusable-lock', `${name} is ${message}, so whether another lumbrik is writing cannot be told`, {
    mend: `If none is, remove ${name}, then try again. Nothing was changed.`,
    where: { file: name },
  });
};
