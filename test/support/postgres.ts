import { execFileSync, spawnSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';

/** Where PostgreSQL is on this machine; where `LUMBRIK_TEST_POSTGRES` is `needed` as in CI, its absence is a failure. */
const folders = ['/usr/lib/postgresql', '/opt/homebrew/opt/postgresql', '/usr/local/opt/postgresql'];
const found = [
  ...folders.flatMap((folder) => {
    const versions = fs.existsSync(folder) ? fs.readdirSync(folder) : [];
    return [path.join(folder, 'bin'), ...versions.map((version) => path.join(folder, version, 'bin'))];
  }),
  '/usr/bin',
  '/usr/local/bin',
].find((folder) => fs.existsSync(path.join(folder, 'initdb')));

export const hasPostgres = found !== undefined || process.env.LUMBRIK_TEST_POSTGRES === 'needed';

/** A PostgreSQL server of its own, reached by a socket in its folder alone. */
export class Postgres {
  readonly #folder = fs.mkdtempSync(path.join(os.tmpdir(), 'lumbrik-pg-'));

  constructor() {
    fs.mkdirSync(path.join(this.#folder, 'socket'));
    // It refuses to be run by root.
    if (this.#isRoot) execFileSync('chown', ['-R', 'postgres', this.#folder]);
    this.#asItself(
      'initdb',
      '-D',
      `${this.#folder}/data`,
      '-U',
      'lumbrik',
      '-E',
      'UTF8',
      '--locale=C.UTF-8',
      '-A',
      'trust',
    );
    const options = `-k ${this.#folder}/socket -c listen_addresses= -c fsync=off`;
    this.#asItself('pg_ctl', '-D', `${this.#folder}/data`, '-w', '-l', `${this.#folder}/log`, '-o', options, 'start');
  }

  readonly #isRoot = process.getuid?.() === 0;

  /** How programs reach it. */
  get address(): string {
    return `postgresql://lumbrik@/postgres?host=${this.#folder}/socket`;
  }

  /**
   * Runs statements in an empty database.
   * @returns what they print, or what the server says where it refuses one.
   */
  run(...texts: readonly string[]): { readonly out: string; readonly refused: string } {
    const empty = 'set client_min_messages = error; drop schema public cascade; create schema public;';
    return this.ask([empty, ...texts].join('\n'));
  }

  /** The same in the database as it is. */
  ask(input: string): { readonly out: string; readonly refused: string } {
    const { stdout, stderr, status } = spawnSync(
      path.join(found ?? '', 'psql'),
      ['-X', '-q', '-A', '-t', '-v', 'ON_ERROR_STOP=1', '-h', `${this.#folder}/socket`, '-U', 'lumbrik', 'postgres'],
      { input, encoding: 'utf8', maxBuffer: 1 << 28 },
    );
    return { out: stdout.trim(), refused: status === 0 ? '' : stderr.trim() };
  }

  stop(): void {
    this.#asItself('pg_ctl', '-D', `${this.#folder}/data`, '-m', 'immediate', 'stop');
    fs.rmSync(this.#folder, { recursive: true, force: true });
  }

  #asItself(name: string, ...args: readonly string[]): void {
    const command = path.join(found ?? '', name);
    const options = { stdio: 'ignore' as const, cwd: this.#folder };
    if (this.#isRoot)
      execFileSync('setpriv', ['--reuid=postgres', '--regid=postgres', '--clear-groups', command, ...args], options);
    else execFileSync(command, args, options);
  }
}
