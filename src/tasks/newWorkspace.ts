import fs from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { z } from 'zod';
import { didYouMean } from '../core/plain/nearest.ts';
import { humanize, thereAre } from '../core/plain/words.ts';
import { changeFiles } from '../journal/change.ts';
import { whyUnwritable } from '../journal/writable.ts';
import { listFiles, writeWhole } from '../workspace/files.ts';
import { withLock } from '../workspace/lock.ts';
import { openWorkspace, workspaceAround } from '../workspace/open.ts';
import { workspaceFile } from '../workspace/readFiles.ts';
import { refuse, systemTrouble, Trouble } from '../workspace/trouble.ts';
import { head, resultVersion } from './result.ts';
import { namingSchemas, schemaChanges } from './schemas.ts';

/** The result of `lumbrik new`. */
export const NewResult = z.strictObject({
  ...head('new'),
  folder: z.string(),
  starter: z.string(),
  files: z.array(z.string()),
});
export type NewResult = z.output<typeof NewResult>;

/** The folder that the starters lie in: two folders up, from the built chunk as from this file. */
const starters = new URL('../../starters/', import.meta.url);

/** What can be written beside a starter, and where it belongs. */
const extras = {
  build: { source: 'workflow.yml', file: '.github/workflows/content.yml', mode: 0o644 },
  hook: { source: 'pre-commit', file: '.githooks/pre-commit', mode: 0o755 },
} as const;
/** The names of extras for a new workspace. */
export const extraNames = Object.keys(extras) as readonly (keyof typeof extras)[];
type Extra = (typeof extraNames)[number];

/** The folder that they lie in, beside the starters. */
const extraFolder = new URL('../extras/', starters);

/** The names of starters. */
export const starterNames = (): readonly string[] => fs.readdirSync(starters).sort();

/** Makes a workspace in a folder that holds none. What a starter brings is copied; nothing that is there is touched. */
export async function newWorkspace(folder: string, starter: string, beside: readonly Extra[] = []): Promise<NewResult> {
  const names = starterNames();
  if (!names.includes(starter))
    throw new Trouble('no-starter', `there is no starter \`${starter}\``, {
      mend: didYouMean(starter, names) ?? thereAre(names) ?? '',
    });

  const target = path.resolve(folder);

  refuseUsed(target, folder);
  const source = path.join(fileURLToPath(starters), starter);
  const files = listFiles(source, '.', ['']);
  const unwritable = whyUnwritable(target, [...files, deepest]);
  if (unwritable) throw unwritable;

  for (const file of files) {
    const bytes = fs.readFileSync(path.join(source, file));
    const isNamed = starter === 'empty' && file === workspaceFile;
    writeWhole(
      path.join(target, file),
      isNamed ? bytes.toString('utf8').replace('A new workspace', () => titleOf(target)) : bytes,
    );
  }

  const added = [...new Set(beside)].map((name) => writeExtra(target, name));
  const workspace = openWorkspace(target);
  const { root } = workspace;
  await withLock(root, () => changeFiles(root, [...schemaChanges(workspace), ...namingSchemas(root)]));

  return { lumbrik: resultVersion, command: 'new', folder, starter, files: [...files, ...added] };
}

/** A path as long as any that Lumbrik writes later by itself: the bytes of an entry in the journal of a run. */
const deepest = `.lumbrik/runs/000001-0001/${'0'.repeat(64)}`;

/** Writes something beside a starter. @returns its path. */
function writeExtra(target: string, name: Extra): string {
  const { source, file, mode } = extras[name];
  const text = fs.readFileSync(new URL(source, extraFolder), 'utf8');
  writeWhole(path.join(target, file), text, { mode });
  return file;
}

const titleOf = (target: string): string =>
  JSON.stringify(humanize(path.basename(target).replace(/[^A-Za-z0-9]+/gu, '-')) || 'A new workspace');

function refuseUsed(target: string, folder: string): void {
  const above = workspaceAround(target);
  if (above !== undefined) {
    const message =
      above === target ? `${folder} holds a workspace already` : `${folder} lies inside the workspace ${above}`;
    throw refuse('workspace-exists', message, {
      mend: 'Choose another folder; nothing was written.',
      where: { file: folder },
    });
  }

  const isFolder = fs.statSync(target, { throwIfNoEntry: false })?.isDirectory();
  if (isFolder === false)
    throw new Trouble('not-a-folder', `${folder} is a file, and a workspace is a folder`, {
      mend: 'Choose another name.',
      where: { file: folder },
    });
  if (isFolder && hasFiles(target))
    throw refuse('folder-not-empty', `${folder} is not empty`, {
      mend: 'Choose an empty folder or a new name; nothing was written.',
      where: { file: folder },
    });
}

function hasFiles(target: string): boolean {
  try {
    return fs.readdirSync(target).some((name) => name !== '.git');
  } catch (error) {
    throw systemTrouble(error, target);
  }
}
