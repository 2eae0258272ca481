import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { plainEnv, type Ran, root } from './program.ts';

/**
 * Runs the built program in the test's own process: arguments in, output and exit code out, without the half second that
 * a process of its own takes to start. What is about processes (stops, locks, terminals) starts one.
 */
export async function call(
  folder: string,
  args: readonly string[],
  env: Readonly<Record<string, string>> = {},
): Promise<Ran> {
  const { main } = (await import(pathToFileURL(path.join(root, 'dist/program.js')).href)) as {
    main: (args: readonly string[], version: string) => Promise<void>;
  };
  const before = { env: process.env, folder: process.cwd(), code: process.exitCode };
  const { stdout, stderr } = process;
  const [out, err] = [catchOutput(stdout), catchOutput(stderr)];
  process.env = { ...plainEnv, ...env };
  process.chdir(folder);
  process.exitCode = undefined;
  try {
    await main(args, '0.0.0');
    return { code: Number(process.exitCode ?? 0), out: out.text(), err: err.text() };
  } finally {
    for (const one of [out, err]) one.restore();
    process.chdir(before.folder);
    process.env = before.env;
    process.exitCode = before.code;
  }
}

/** The result object of a command, asked for as JSON. */
export async function answerOf(
  folder: string,
  args: readonly string[],
  env: Readonly<Record<string, string>> = {},
): Promise<any> {
  const { code, out, err } = await call(folder, [...args, '--format', 'json'], env);
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
