import path from 'node:path';
import type { Limits } from '../core/plain/limits.ts';
import { readYaml } from '../core/source/yaml.ts';
import { readText } from './files.ts';
import { excerptOf, type ModelMistake, type TextFile } from './modelMistake.ts';

/** The file that makes a folder a workspace. */
export const workspaceFile = 'lumbrik.yaml';

/** Texts that are read instead of files, or beside them: what a model, or lumbrik.yaml, would be after a change. Without a text, the file is gone. */
export type Instead = ReadonlyMap<string, string | undefined>;

/** The names of files, with those that texts stand in for. */
export const withInstead = (
  files: readonly string[],
  instead: Instead,
  concerns: (file: string) => boolean,
): readonly string[] =>
  [...new Set([...files, ...[...instead.keys()].filter(concerns)])]
    .filter((file) => !instead.has(file) || instead.get(file) !== undefined)
    .sort();

/** How files are read. */
interface ReadingFiles {
  readonly limits: Limits;
  readonly instead?: Instead;
}

/** Reads files of the model as YAML. Those that cannot be read are mistakes. */
export function readFiles(
  root: string,
  names: readonly string[],
  { limits, instead = new Map() }: ReadingFiles,
): { readonly files: readonly TextFile[]; readonly mistakes: readonly ModelMistake[] } {
  const read = names.map((name) => readSource(root, name, limits, instead.get(name)));
  return {
    files: read.flatMap((outcome) => ('file' in outcome ? [outcome.file] : [])),
    mistakes: read.flatMap((outcome) => ('mistake' in outcome ? [outcome.mistake] : [])),
  };
}

/** Reads one file as YAML. @param instead the text that is read in its place. */
export function readSource(
  root: string,
  file: string,
  limits: Limits,
  instead?: string,
): { readonly file: TextFile } | { readonly mistake: ModelMistake } {
  const read = instead === undefined ? readText(path.join(root, file), limits) : { value: instead };
  if ('problem' in read) {
    const { says: text, mend, line, column } = read.problem;
    return { mistake: { file, line, column, says: `the file ${text}`, mend, excerpt: '' } };
  }

  const text = read.value;
  const reading = readYaml(text.replace(/^\uFEFF/u, ''), limits);
  const lines = text.split('\n');
  if ('value' in reading) return { file: { file, source: reading.value, lines } };

  const { says: message, mend, line, column } = reading.problem;

  return { mistake: { file, line, column, says: message, mend, excerpt: excerptOf(lines, line, column) } };
}
