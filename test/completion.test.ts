import { spawn, spawnSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { isId } from '../src/core/definition/address.ts';
import { lumbrik, plainEnv, program, result, started, temporary, workspace, write } from './support/program.ts';

/** Identifiers that a shell would make something else of. The first two letters of each tell it from the others. */
const hostile = [
  // biome-ignore lint/suspicious/noTemplateCurlyInString: what a shell would expand.
  '00$(touch${IFS}pwn)',
  '01`touch pwn`',
  '02; touch pwn',
  '03 & touch pwn &',
  `04'quoted' "twice"`,
  // biome-ignore lint/suspicious/noTemplateCurlyInString: what a shell would expand.
  '05$HOME ${PATH} $?',
  '06!! !touch !!:p',
  '07*?[a-z]',
  '08{1,2} ~ ~root',
  '09\\ \\\\ \\t \\',
  '10 # not a comment',
  '11>pwn',
  '12|touch pwn',
  '13<pwn',
  '14(touch pwn)',
  '15=^a^b^',
  '16 @home: a:b=c',
  '17 — Größe 日本 🙂',
  '18%d%s%n',
  "19$'\\x41'",
  '20 --where true -x',
  '21"$(touch pwn)"',
  '22,;:+=-_.~',
];

const entryOf = (id: string): string => JSON.stringify({ id, name: 'A' });
const hostileWorkspace = (): string =>
  workspace({
    'lumbrik.yaml': 'workspace: W\ncontent: [{ lines: content/lights.ndjson, type: light }]\n',
    'model/types/light.yaml': 'type: light\nfields:\n  name: { kind: text }\n  $HOME: { kind: text }\n',
    'model/taxonomies/region.yaml': 'taxonomy: region\nterms: [{ term: north }, { term: south }]\n',
    'content/lights.ndjson': `${hostile.map(entryOf).join('\n')}\n`,
  });

interface ShellUnderTest {
  readonly name: string;
  readonly start: (settings: string) => readonly string[];
  /** The settings that the shell reads before its first prompt. */
  readonly settings: (script: string) => string;
}

const shells: readonly ShellUnderTest[] = [
  {
    name: 'bash',
    start: (settings) => ['bash', '--noprofile', '--rcfile', settings, '-i'],
    settings: (script) => `set -o history -o histexpand; PS1='ready> '; bind 'set bell-style none'\n${script}`,
  },
  {
    name: 'zsh',
    // It reads `.zshrc` in the folder that ZDOTDIR names.
    start: () => ['zsh', '-d', '-i'],
    settings: (script) => `PROMPT='ready> '; unsetopt BEEP; autoload -U compinit && compinit -u\n${script}`,
  },
  {
    name: 'fish',
    start: (settings) => ['fish', '--no-config', '-i', '-C', `source ${settings}`],
    settings: (script) => `function fish_prompt; echo 'ready> '; end\n${script}`,
  },
];
const isThere = (name: string): boolean => spawnSync(name, ['--version']).status === 0;

/** Identifiers that are quoted differently in quotes, by their first two letters. */
const differently = ['00', '01', '04', '05', '06', '09', '19', '21'];

/** What is typed before Tab, and the identifier that it begins. */
type Begun = readonly [typed: string, id: string];

/** Words that are begun bare and in quotes, and words that go on where something is quoted already. */
const begun: readonly Begun[] = [
  ...hostile.map((id): Begun => [`light/${id.slice(0, 2)}`, id]),
  ...['"', "'"].flatMap((quote) =>
    hostile
      .filter((id) => differently.includes(id.slice(0, 2)))
      .map((id): Begun => [`${quote}light/${id.slice(0, 2)}`, id]),
  ),
  ['light/02\\;', '02; touch pwn'],
  ["light/04\\'quo", `04'quoted' "twice"`],
  ['light/16\\ @home:', '16 @home: a:b=c'],
  ["'light/12|to", '12|touch pwn'],
  ['"light/10 #', '10 # not a comment'],
];

/** Calls in which something else than an entry is begun, bare and in quotes. */
const beside: readonly (readonly [typed: string, call: readonly string[]])[] = [
  ['show light.na', ['show', 'light.name']],
  ['list "region:no', ['list', 'region:north']],
  ['add term region X --under region:no', ['add', 'term', 'region', 'X', '--under', 'region:north']],
  ["list light --columns 'id,na", ['list', 'light', '--columns', 'id,name']],
];

/**
 * Types calls into an interactive shell, each up to the second letter of an identifier, then Tab and Enter. In the place
 * of `lumbrik` stands a program that completes as the built one does and notes its arguments otherwise.
 * @returns the arguments of each call.
 */
async function typeInto(
  shell: ShellUnderTest,
  folder: string,
  lines: readonly string[],
): Promise<readonly (readonly string[])[]> {
  const home = temporary();
  const notes = path.join(home, 'notes');
  const completing = ['#!/bin/sh', `if [ "$1" = --complete ]; then exec "${process.execPath}" "${program}" "$@"; fi`];
  const noting = [`for word in "$@"; do printf '%s\\0' "$word"; done >> "${notes}"`, `printf '\\n\\0' >> "${notes}"`];
  write(home, {
    'bin/lumbrik': `${[...completing, ...noting].join('\n')}\n`,
    '.zshrc': shell.settings(started(home, ['completion', shell.name]).out),
  });
  fs.chmodSync(path.join(home, 'bin/lumbrik'), 0o755);
  const command = shell.start(path.join(home, '.zshrc')).map((word) => `'${word}'`);
  const child = spawn('script', ['-qfec', `stty rows 50 cols 300; exec ${command.join(' ')}`, '/dev/null'], {
    cwd: folder,
    env: {
      ...plainEnv,
      HOME: home,
      ZDOTDIR: home,
      PATH: `${path.join(home, 'bin')}:${process.env.PATH}`,
      TERM: 'xterm',
      LANG: 'C.UTF-8',
      LUMBRIK_PATIENCE: '20000',
    },
  });
  let screen = '';
  child.stdout.on('data', (data) => {
    screen += String(data);
  });
  const calls = (): readonly (readonly string[])[] =>
    (fs.existsSync(notes) ? fs.readFileSync(notes, 'utf8') : '')
      .split('\n\0')
      .slice(0, -1)
      .map((call) => call.split('\0').slice(0, -1));
  const until = async (what: string, isSo: () => boolean): Promise<void> => {
    const end = Date.now() + 20_000;
    while (!isSo()) {
      if (Date.now() > end)
        throw new Error(`${shell.name}: ${what} did not come\n${JSON.stringify(screen.slice(-700))}`);
      await new Promise((go) => setTimeout(go, 15));
    }
  };

  try {
    let before = 0;
    for (const [index, line] of lines.entries()) {
      await until('a prompt', () => screen.includes('ready> ', before));
      before = screen.length;
      child.stdin.write(`${line}\t`);
      await until(`an end of ${line}`, () => screen.length > before + line.length + 2);
      child.stdin.write('\r');
      await until(`the call of ${line}`, () => calls().length > index);
    }
    return calls();
  } finally {
    child.kill('SIGKILL');
  }
}

describe('completion in the real interactive shells [M2]', () => {
  test('a name is put on the line as what it is, whatever is in it', async () => {
    const areNeeded = process.env.LUMBRIK_TEST_SHELLS === 'needed';
    const lines = [...begun.map(([typed]) => `lumbrik show ${typed}`), ...beside.map(([typed]) => `lumbrik ${typed}`)];
    const ran = await Promise.all(
      shells
        .filter(({ name }) => areNeeded || isThere(name))
        .map(async (shell) => {
          const folder = hostileWorkspace();
          const calls = await typeInto(shell, folder, lines);
          return { name: shell.name, calls, pwned: fs.existsSync(path.join(folder, 'pwn')) };
        }),
    );
    expect(ran.length).toBeGreaterThan(0);
    const expected = [...begun.map(([, id]) => ['show', `light/${id}`]), ...beside.map(([, call]) => call)];
    expect(ran).toEqual(ran.map(({ name }) => ({ name, calls: expected, pwned: false })));
  });
});

describe('identifiers that no shell should see [M2]', () => {
  test('the hostile names are identifiers', () => {
    expect(hostile.filter((id) => !isId(id))).toEqual([]);
  });

  test.each(['\u202e', '\u2066', '\u200b', '\ufeff', '\u0007', '\u2028'])('%j is refused, and shown', async (sign) => {
    const id = `a${sign}b`;
    const folder = workspace({
      'lumbrik.yaml': 'workspace: W\ncontent: [{ lines: content/lights.ndjson, type: light }]\n',
      'model/types/light.yaml': 'type: light\nfields: { name: { kind: text } }\n',
      'content/lights.ndjson': `${entryOf(id)}\n`,
    });
    expect((await result(folder, ['check'])).findings).toMatchObject([{ finding: 'malformed-identifier' }]);
    const { out } = await lumbrik(folder, ['check']);
    expect(out).toContain('visible text');
    expect(out).not.toContain(sign);
  });
});

describe('completion of entries is whole or silent [M2, I4]', () => {
  const many = (ids: readonly string[]): string =>
    workspace({
      'lumbrik.yaml': 'workspace: W\ncontent: [{ folder: content }, { lines: content/logs.ndjson, type: log }]\n',
      'model/types/light.yaml': 'type: light\nfields: { name: { kind: text } }\n',
      'model/types/log.yaml': 'type: log\nfields: { name: { kind: text } }\n',
      ...Object.fromEntries(ids.map((id) => [`content/light/${id}.yaml`, 'name: A\n'])),
      'content/logs.ndjson': `${ids.map(entryOf).join('\n')}\n`,
    });
  const patient = { LUMBRIK_PATIENCE: '60000' };
  const offered = async (folder: string, typed: string, env: Readonly<Record<string, string>> = patient) =>
    (await lumbrik(folder, ['--complete', 'zsh', 'show', typed], env)).out.split('\n').filter(Boolean);
  const idsOf = (length: number) =>
    Array.from({ length }, (_, index) => `${['amber', 'birch'][index % 2]}-${1000 + index}`);
  const ids = idsOf(1500);

  test.each(['light', 'log'])('many are offered by how they go on, a few by their names: %s', async (type) => {
    const folder = many(ids);
    const [all, few] = [await offered(folder, `${type}/`), await offered(folder, `${type}/amber-101`)];
    expect(all.length).toBeLessThanOrEqual(200);
    for (const id of ids) expect([id, all.some((one) => `${type}/${id}`.startsWith(one))]).toEqual([id, true]);
    expect(few).toEqual(['0', '2', '4', '6', '8'].map((end) => `${type}/amber-101${end}`));
  });

  test('where reading takes longer than a person waits, nothing is offered, until all is known', async () => {
    const folder = many(idsOf(8000));
    const impatient = { LUMBRIK_PATIENCE: '1' };
    const seen = new Set<number>();
    for (let again = 0; again < 400 && !seen.has(5); again += 1)
      seen.add((await offered(folder, 'light/amber-101', impatient)).length);
    expect([...seen]).toEqual([0, 5]);
    fs.rmSync(path.join(folder, 'content/light/amber-1010.yaml'));
    expect(await offered(folder, 'light/amber-101')).toHaveLength(4);
  });
});
