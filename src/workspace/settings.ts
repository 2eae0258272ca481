import type { z } from 'zod';
import type { BuiltInKeys } from '../core/definition/builtIn.ts';
import {
  type AdviceSettings,
  contentFolder,
  type FindingSettings,
  type StoreOptions,
  WorkspaceFile,
} from '../core/definition/workspace.ts';
import { type Languages, readLanguages } from '../core/model/languages.ts';
import { type Mistake, parseWith } from '../core/model/mistakes.ts';
import { usualLimits } from '../core/plain/limits.ts';
import type { TextFile } from './modelMistake.ts';
import { type Instead, readSource, workspaceFile } from './readFiles.ts';
import { Trouble } from './trouble.ts';

/** What lumbrik.yaml says, with the defaults for the rest. */
export interface Settings extends Languages {
  readonly workspace: string;
  readonly limits: NonNullable<z.output<typeof WorkspaceFile>['limits']>;
  readonly builtIn: BuiltInKeys;
  readonly content: readonly StoreOptions[];
  readonly findings: FindingSettings;
  readonly advice: AdviceSettings;
}

const usualContent: readonly StoreOptions[] = [{ folder: contentFolder }];

/** Where the entries of a workspace are, for what has to go on where lumbrik.yaml cannot be used: the usual place then. */
export function readContentSettings(root: string): readonly StoreOptions[] {
  try {
    return readSettings(root).content;
  } catch (error) {
    if (error instanceof Trouble) return usualContent;
    throw error;
  }
}

/** Reads lumbrik.yaml. @throws {Trouble} where it cannot be used. */
export function readSettings(root: string, instead: Instead = new Map()): Settings {
  const read = readSource(root, workspaceFile, usualLimits, instead.get(workspaceFile));
  if ('mistake' in read)
    throw new Trouble('unusable-workspace', `${workspaceFile} ${read.mistake.says}`, {
      mend: read.mistake.mend,
      where: read.mistake,
    });

  const { data } = read.file.source;
  if (data === null)
    throw new Trouble('unusable-workspace', `${workspaceFile} is empty`, {
      mend: 'Give the workspace a name: `workspace: …`',
      where: { file: workspaceFile, line: 1, column: 1 },
    });

  const parsed = parseWith(WorkspaceFile, data, 'a workspace');
  const languages = 'value' in parsed ? readLanguages(parsed.value.languages ?? ['en']) : parsed;
  if ('value' in parsed && 'value' in languages)
    return {
      workspace: parsed.value.workspace,
      limits: parsed.value.limits ?? {},
      builtIn: parsed.value.builtIn ?? {},
      content: parsed.value.content ?? usualContent,
      findings: parsed.value.findings ?? {},
      advice: parsed.value.advice ?? {},
      ...languages.value,
    };
  throw unusableSettings(read.file, 'problem' in languages ? languages.problem : []);
}

/** All that is wrong with the settings of a workspace, the first with what to do. */
function unusableSettings({ source }: TextFile, [first, ...rest]: readonly Mistake[]): Trouble {
  const place = ({ path, atKey }: Pick<Mistake, 'path' | 'atKey'>) => {
    if (atKey) return source.locateKey(path);
    return source.locate(path);
  };
  return new Trouble('unusable-workspace', `in ${workspaceFile}, ${first?.says}`, {
    mend: first?.mend ?? '',
    where: { file: workspaceFile, ...place(first ?? { path: [] }) },
    also: rest.map((mistake) => `${workspaceFile}:${place(mistake).line}  ${mistake.says}`),
  });
}
