import path from 'node:path';
import type { Misfit } from '../core/migration/plan.ts';
import { type Migration, readMigration } from '../core/migration/read.ts';
import { usualLimits } from '../core/plain/limits.ts';
import { didYouMean } from '../core/plain/nearest.ts';
import { sentences, thereAre } from '../core/plain/words.ts';
import { readYaml, type Source } from '../core/source/yaml.ts';
import { listRuns, standsAt } from '../journal/runs.ts';
import { hashBytes, listFiles, readText } from '../workspace/files.ts';
import { Trouble } from '../workspace/trouble.ts';
import { statedFile } from './statedChanges.ts';

const folder = 'migrations';

/** A migration's file, read. */
export interface MigrationFile {
  /** `migrations/0001-rename-height.yaml` */
  readonly file: string;
  readonly migration: Migration;
  /** The SHA-256 of the file: a rehearsal counts for exactly these bytes. */
  readonly hash: string;
  readonly source: Source;
}

/** The name of a migration file. */
export const migrationFileName = (number: number, name: string): string =>
  `${folder}/${String(number).padStart(4, '0')}-${name}.yaml`;

const listMigrationFiles = (root: string): readonly string[] =>
  listFiles(root, folder, ['.yaml'])
    .map((name) => `${folder}/${name}`)
    .filter((file) => file !== statedFile);

/** Reads every migration in order of number. @throws {Trouble} at the first that cannot be read. */
export const readMigrations = (root: string): readonly MigrationFile[] =>
  listMigrationFiles(root)
    .map((file) => readMigrationFile(root, file))
    .sort((a, b) => a.migration.number - b.migration.number);

/** Reads the migration that a person means: by number, by the name of its file, or the newest. @throws {Trouble} */
export function findMigration(root: string, typed: string | undefined): MigrationFile {
  const files = listMigrationFiles(root);
  const last = files.at(-1);
  if (last === undefined)
    throw new Trouble('no-migration', 'there is no migration in this workspace', {
      mend: 'Draft one from a changed model: lumbrik migration draft',
    });
  if (typed === undefined) return readMigrationFile(root, last);

  const file = files.find((file) => isMeant(file, typed));
  if (file !== undefined) return readMigrationFile(root, file);

  const name = path.basename(typed, '.yaml');
  const names = files.map((file) => path.basename(file, '.yaml'));
  throw new Trouble('no-migration', `there is no migration ${typed}`, {
    mend: sentences(thereAre(names), didYouMean(name, names)),
  });
}

/** Whether a migration's file is the one that a person means by its number or its name. */
export const isMeant = (file: string, typed: string): boolean =>
  path.basename(file, '.yaml') === path.basename(typed, '.yaml') ||
  (/^\d+$/u.test(typed) && Number.parseInt(path.basename(file), 10) === Number(typed));

function readMigrationFile(root: string, file: string): MigrationFile {
  const text = readText(path.join(root, file), usualLimits);
  if ('value' in text) return migrationIn(file, text.value);
  const { says: message, mend, line, column } = text.problem;
  throw new Trouble('unusable-migration', `${file} ${message}`, { mend, where: { file, line, column } });
}

/** The text of a migration, read. @throws {Trouble} where it is none. */
export function migrationIn(file: string, text: string): MigrationFile {
  const reading = readYaml(text.replace(/^\uFEFF/u, ''), usualLimits);
  if ('problem' in reading) {
    const { says: message, mend, line, column } = reading.problem;
    throw new Trouble('unusable-migration', `${file} cannot be read: ${message}`, {
      mend,
      where: { file, line, column },
    });
  }

  const { value: source } = reading;
  const read = readMigration(source.data);
  if ('value' in read) return { file, migration: read.value, hash: hashBytes(text), source };

  const [first, ...rest] = read.problem;
  const place = (mistake: (typeof read.problem)[number]) => {
    if (mistake.atKey) return source.locateKey(mistake.path);
    return source.locate(mistake.path);
  };
  throw new Trouble('unusable-migration', first?.says ?? 'the migration cannot be read', {
    mend: first?.mend ?? '',
    where: { file, ...(first ? place(first) : {}) },
    also: rest.map((mistake) => `${file}:${place(mistake).line}  ${mistake.says}`),
  });
}

/**
 * Whether the entries went through a migration. One that leaves the model as it is tells nothing by where the entries
 * stand: there, the journals of its runs do.
 */
export function wasRun(root: string, { migration }: MigrationFile, obeyedHash: string | undefined): boolean {
  if (migration.from !== migration.to) return obeyedHash === migration.to;
  return listRuns(root).some(
    ({ plan, state }) =>
      plan.migration === migration.number && state === 'done' && standsAt(root, plan.files) !== 'before',
  );
}

/** A step that does not fit, as an error with its place. */
export function misfitTrouble({ file, source }: MigrationFile, { step, key, says: message, mend }: Misfit): Trouble {
  const path = ['steps', step - 1, ...(key === undefined ? [] : [key])];
  return new Trouble('step-does-not-fit', `step ${step}: ${message}`, {
    mend,
    where: { file, ...source.locate(path) },
  });
}
