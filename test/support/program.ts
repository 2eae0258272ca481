import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { onTestFinished } from 'vitest';
import { type Files, plainEnv } from './plain.ts';

export const root = fileURLToPath(new URL('../../', import.meta.url));
export const program = path.join(root, 'dist/cli.js');
const { version } = JSON.parse(fs.readFileSync(path.join(root, 'package.json'), 'utf8'));

export { type Files, plainEnv } from './plain.ts';

export interface Ran {
  readonly code: number | null;
  readonly out: string;
  readonly err: string;
}

interface Settings {
  readonly env?: Readonly<Record<string, string>>;
  /** Arguments for Node itself, before the program. */
  readonly node?: readonly string[];
  readonly uid?: number;
  /** Another build than the one that is tested. */
  readonly program?: string;
}

/** Starts the built program in a folder as a process of its own and waits for its end: for what is about processes. */
export function started(
  folder: string,
  args: readonly string[],
  { env = {}, node = [], uid, program: other = program }: Settings = {},
): Ran {
  const ran = spawnSync(process.execPath, [...node, other, ...args], {
    cwd: folder,
    encoding: 'utf8',
    maxBuffer: 1 << 28,
    env: { ...plainEnv, ...env },
    ...(uid === undefined ? {} : { uid, gid: uid }),
  });
  return { code: ran.status, out: ran.stdout, err: ran.stderr };
}

/**
 * Runs the built program in the test's own process: arguments in, output and exit code out, without the half second
 * that a process of its own takes to start.
 */
export async function lumbrik(
  folder: string,
  args: readonly string[],
  env: Readonly<Record<string, string>> = {},
): Promise<Ran> {
  const { main } = (await import(pathToFileURL(path.join(root, 'dist/program.js')).href)) as {
    main: (args: readonly string[], version: string) => Promise<void>;
  };
  const before = { env: process.env, folder: process.cwd(), code: process.exitCode, log: console.log };
  const [out, err] = [catchOutput(process.stdout), catchOutput(process.stderr)];
  process.env = { ...plainEnv, ...env };
  process.chdir(folder);
  process.exitCode = undefined;
  // What the parser of arguments prints by itself: help.
  console.log = (text: string) => process.stdout.write(`${text}\n`);

  try {
    await main(args, version);
    return { code: Number(process.exitCode ?? 0), out: out.text(), err: err.text() };
  } finally {
    for (const one of [out, err]) one.restore();
    process.chdir(before.folder);
    process.env = before.env;
    process.exitCode = before.code;
    console.log = before.log;
  }
}

/** The result object of a command, asked for as JSON. */
export async function result(
  folder: string,
  args: readonly string[],
  env: Readonly<Record<string, string>> = {},
): Promise<any> {
  const { out, err, code } = await lumbrik(folder, [...args, '--format', 'json'], env);
  try {
    return { ...JSON.parse(out), code };
  } catch {
    throw new Error(`no JSON from lumbrik ${args.join(' ')} (exit ${code}):\n${out}\n${err}`);
  }
}

function catchOutput(stream: NodeJS.WriteStream) {
  const { write } = stream;
  const parts: string[] = [];
  stream.write = ((part: string | Uint8Array) => {
    parts.push(typeof part === 'string' ? part : Buffer.from(part).toString('utf8'));
    return true;
  }) as typeof stream.write;
  return {
    text: () => parts.join(''),
    restore: () => {
      stream.write = write;
    },
  };
}

/** An empty temporary folder, removed after the test. */
export function temporary(): string {
  const folder = fs.realpathSync(fs.mkdtempSync(path.join(os.tmpdir(), 'lumbrik-')));
  onTestFinished(() => fs.rmSync(folder, { recursive: true, force: true }));
  return folder;
}

/** Writes files below a folder. */
export function write(folder: string, files: Files): void {
  for (const [name, content] of Object.entries(files)) {
    const file = path.join(folder, name);
    fs.mkdirSync(path.dirname(file), { recursive: true });
    fs.writeFileSync(file, content);
  }
}

/** A temporary workspace with some files, beside a `lumbrik.yaml` unless one is among them. */
export function workspace(files: Files): string {
  const folder = temporary();
  write(folder, { 'lumbrik.yaml': 'workspace: Gannet Sound\nlanguages: [en]\n', ...files });
  return folder;
}

/** A temporary copy of the demo. */
export function coast(): string {
  const folder = temporary();
  fs.cpSync(path.join(root, 'starters/lighthouses'), folder, { recursive: true });
  return folder;
}

export const read = (folder: string, file: string): string => fs.readFileSync(path.join(folder, file), 'utf8');

/** Changes a file by a replacement that must apply. */
export function edit(folder: string, file: string, from: string | RegExp, to: string): void {
  const before = read(folder, file);
  const after = before.replace(from, to);
  if (after === before) throw new Error(`nothing to replace in ${file}: ${from}`);
  fs.writeFileSync(path.join(folder, file), after);
}

/** Every file below a folder with its bytes as hexadecimal, but for the tool's own folder. */
export function snapshot(folder: string, inside = ''): ReadonlyMap<string, string> {
  const files = fs
    .readdirSync(path.join(folder, inside), { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile());
  return new Map(
    files
      .map((entry) => path.relative(folder, path.join(entry.parentPath, entry.name)))
      .filter((name) => !name.startsWith('.lumbrik/') && !name.startsWith('.git/'))
      .sort()
      .map((name) => [name, fs.readFileSync(path.join(folder, name)).toString('hex')]),
  );
}
