import { createHash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import type { ModelDoc } from '../core/model/document.ts';
import type { ContentTerms } from '../core/taxonomy/linkTaxonomy.ts';
import { readBytes, writeWhole } from './files.ts';
import { makeOwnFolder, ownFolder } from './lock.ts';

/** A model without mistakes as it was read before, so that the same files need not be read as YAML again. */
export interface Remembered {
  readonly name: string;
  readonly form: ModelDoc;
  readonly terms: readonly (readonly [string, ContentTerms])[];
  readonly modelHash: string;
}

/** Models smaller than this are read in no time; nothing is remembered of them, and nothing written. */
const worthRemembering = 256 * 1024;

const memoryFile = `${ownFolder}/model.json`;

/** Which build this is: another one may read the same files otherwise. Set by the build; a run from source remembers nothing. */
const build: string | undefined = process.env.LUMBRIK_BUILD;

/** What stands for the bytes of some files; `undefined` where they are few, or one cannot be read. */
export function fingerprintOf(root: string, files: readonly string[]): string | undefined {
  if (build === undefined) return undefined;
  const size = files.reduce(
    (sum, file) => sum + (fs.statSync(path.join(root, file), { throwIfNoEntry: false })?.size ?? 0),
    0,
  );
  if (size < worthRemembering) return undefined;
  const hash = createHash('sha256').update(build);
  for (const file of files) {
    const bytes = readBytes(path.join(root, file));
    if ('notRead' in bytes) return undefined;
    hash.update(`\0${file}\0${bytes.length}\0`).update(bytes);
  }
  return hash.digest('hex');
}

/** The model that was read from the same bytes before. */
export function recall(root: string, fingerprint: string): Remembered | undefined {
  try {
    const text = fs.readFileSync(path.join(root, memoryFile), 'utf8');
    const end = text.indexOf('\n');
    return text.slice(0, end) === fingerprint ? (JSON.parse(text.slice(end + 1)) as Remembered) : undefined;
  } catch {
    return undefined; // Nothing is remembered, or it cannot be read: then the files themselves are.
  }
}

/** Keeps a model for the next time. Where nothing can be written, nothing is lost by it. */
export function remember(root: string, fingerprint: string, model: Remembered): void {
  try {
    makeOwnFolder(root);
    writeWhole(path.join(root, memoryFile), `${fingerprint}\n${JSON.stringify(model)}`);
  } catch {
    // A folder that is read-only, a disk that is full.
  }
}
