import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { refuseLink } from './files.ts';
import { refuse, systemCode, systemTrouble } from './trouble.ts';

/** The tool's own folder in a workspace: the lock, the journals, the records of rehearsals. Not for version control. */
export const ownFolder = '.lumbrik';
const lockFile = `${ownFolder}/lock`;

/** Makes the tool's own folder, with a note to version control to leave it alone. */
export function makeOwnFolder(root: string): void {
  refuseLink(root, ownFolder);
  const folder = path.join(root, ownFolder);
  try {
    fs.mkdirSync(folder, { recursive: true });
    const ignore = path.join(folder, '.gitignore');
    if (!fs.existsSync(ignore)) fs.writeFileSync(ignore, '*\n');
  } catch (error) {
    throw systemTrouble(error, folder);
  }
}

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
    return await work();
  } finally {
    fs.rmSync(file, { force: true });
  }
}

function take(file: string): void {
  const mine = `${process.pid} ${os.hostname()}`;
  for (let attempt = 0; attempt < 2; attempt += 1) {
    try {
      // Written beside and linked into place: the lock is never there without saying whose it is.
      const beside = `${file}-${process.pid}`;
      fs.writeFileSync(beside, mine);
      try {
        fs.linkSync(beside, file);
      } finally {
        fs.rmSync(beside, { force: true });
      }
      return;
    } catch (error) {
      if (systemCode(error) !== 'EEXIST') throw systemTrouble(error, file);
      const holder = readHolder(file);
      if (attempt > 0 || isAlive(holder)) throw locked(holder);
      fs.rmSync(file, { force: true });
    }
  }
}

interface Holder {
  readonly pid: number;
  readonly host: string;
}

function readHolder(file: string): Holder {
  try {
    const [pid = '', host = ''] = fs.readFileSync(file, 'utf8').split(' ');
    return { pid: Number(pid), host };
  } catch {
    return { pid: Number.NaN, host: '' };
  }
}

function isAlive({ pid, host }: Holder): boolean {
  if (host !== os.hostname()) return true;
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return systemCode(error) === 'EPERM';
  }
}

const locked = ({ pid, host }: Holder) =>
  refuse('locked', `another lumbrik is writing to this workspace (process ${pid} on ${host})`, {
    mend: `Wait until it has finished. If it cannot be running any more, delete ${lockFile}.`,
  });
