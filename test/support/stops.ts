import fs from 'node:fs';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { root, started, temporary } from './program.ts';

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
