import { spawn, spawnSync } from 'node:child_process';
import { plainEnv } from './plain.ts';
import { program } from './program.ts';

/** Whether this system has what gives a program a terminal (util-linux). */
export const hasTerminal =
  spawnSync('script', ['--version'], { encoding: 'utf8' }).stdout?.includes('util-linux') === true;

export const keys = { enter: '\r', down: '\u001b[B', back: '\u007f', stop: '\u0003' };

/** What never shows is not waited for longer than this, in ms. */
const longest = 60_000;

/** What is waited for on the screen, and what is typed then. */
type Typed = readonly [shown: string, typed: string];

/** Runs the built program in a terminal of its own, as wide as `COLUMNS` says, and types into it. @returns what was on the screen, without its codes. */
export async function onTerminal(
  folder: string,
  args: readonly string[],
  typing: readonly Typed[],
  env: Readonly<Record<string, string>> = {},
): Promise<{ readonly code: number | null; readonly screen: string }> {
  const quoted = [process.execPath, program, ...args].map((one) => `'${one.replaceAll("'", `'\\''`)}'`).join(' ');
  const child = spawn('script', ['-qfec', `stty rows 30 cols ${env.COLUMNS ?? 100}; ${quoted}`, '/dev/null'], {
    cwd: folder,
    env: { ...plainEnv, TERM: 'xterm', LANG: 'C.UTF-8', ...env },
  });
  let screen = '';
  let seen = 0;
  const left = [...typing];
  const type = (): void => {
    const [next] = left;
    const at = next ? screen.indexOf(next[0], seen) : -1;
    if (!next || at < 0) return;
    seen = screen.length;
    left.shift();
    child.stdin.write(next[1]);
  };
  child.stdout.on('data', (data) => {
    screen += withoutCodes(String(data));
    type();
  });
  const patience = setTimeout(() => child.kill('SIGKILL'), longest);
  const code = await new Promise<number | null>((ended) => {
    child.on('close', ended);
  });
  clearTimeout(patience);
  if (left.length > 0) throw new Error(`never shown: ${left[0]?.[0]}\n${screen}`);
  return { code, screen };
}

const withoutCodes = (text: string): string =>
  text.replace(new RegExp(`${String.fromCodePoint(27)}\\[[0-9;?]*[A-Za-z]`, 'gu'), '');
