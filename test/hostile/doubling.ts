import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { plainEnv } from '../support/plain.ts';
import type { Dimension } from './dimensions.ts';

const measure = fileURLToPath(new URL('./measure.mjs', import.meta.url));

/** Longer than this no command may take on anything that is tried, in milliseconds. */
const patience = 60_000;

/** Processor time of a command on a workspace of some size and on one of twice that, in milliseconds; nothing where it does not come back. */
export interface Doubling {
  readonly once: number;
  readonly twice: number;
}

export function double({ size, files, args = ['check'], before = [], afterwards }: Dimension): Doubling | undefined {
  const top = fs.mkdtempSync(path.join(os.tmpdir(), 'lumbrik-doubling-'));
  try {
    const make = (name: string, much: number): string => {
      const folder = path.join(top, name);
      put(folder, { 'lumbrik.yaml': 'workspace: Gannet Sound\nlanguages: [en]\n', ...files(much) });
      for (const call of before) run([JSON.stringify([folder]), ...call]);
      if (afterwards) put(folder, afterwards(much));
      return folder;
    };
    const folders = [make('warm', Math.ceil(size / 10)), make('once', size), make('twice', 2 * size)];
    const [, once, twice] = run([JSON.stringify(folders), ...args]) ?? [];
    return once === undefined || twice === undefined ? undefined : { once, twice };
  } finally {
    fs.rmSync(top, { recursive: true, force: true });
  }
}

function run(args: readonly string[]): readonly number[] | undefined {
  const { stdout, status } = spawnSync(process.execPath, [measure, ...args], {
    encoding: 'utf8',
    env: plainEnv,
    timeout: patience,
    killSignal: 'SIGKILL',
  });
  return status === 0 ? JSON.parse(stdout) : undefined;
}

function put(folder: string, files: ReturnType<Dimension['files']>): void {
  for (const [name, content] of Object.entries(files)) {
    const file = path.join(folder, name);
    fs.mkdirSync(path.dirname(file), { recursive: true });
    fs.writeFileSync(file, content);
  }
}
