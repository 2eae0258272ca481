import os from 'node:os';
import path from 'node:path';

/** What the program is told of its surroundings: the same on every machine. Its key is one of the tests' own, and so is what it keeps. */
export const plainEnv: Readonly<Record<string, string>> = {
  PATH: process.env.PATH ?? '',
  LANG: 'C.UTF-8',
  SOURCE_DATE_EPOCH: '1772323200',
  XDG_STATE_HOME: path.join(os.tmpdir(), 'lumbrik-tests'),
  XDG_CACHE_HOME: path.join(os.tmpdir(), 'lumbrik-tests-cache'),
};

export type Files = Readonly<Record<string, string | Buffer>>;
