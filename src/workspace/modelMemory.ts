import { createHash } from 'node:crypto';
import path from 'node:path';
import type { BuiltInKeys } from '../core/definition/builtIn.ts';
import type { ModelDoc } from '../core/definition/model.ts';
import type { AdviceSettings, FindingSettings, StoreOptions } from '../core/definition/workspace.ts';
import type { setLimits } from '../core/plain/limits.ts';
import { once } from '../core/plain/once.ts';
import type { ContentTerms } from '../core/taxonomy/linkTaxonomy.ts';
import { build } from './build.ts';
import { readBytes, statOf } from './files.ts';
import { isOurs, markOf } from './localKey.ts';
import { makeOwnFolder, ownFolder, readOwnText, writeOwn } from './ownFolder.ts';

/** A workspace whose model has no mistakes as it was read before, so that the same files need not be read as YAML again. */
export interface Remembered extends RememberedSettings {
  readonly model: () => RememberedModel;
}

interface RememberedModel {
  readonly definition: ModelDoc;
  readonly terms: readonly (readonly [string, ContentTerms])[];
}

interface RememberedSettings {
  readonly name: string;
  readonly languages: readonly string[];
  readonly modelHash: string;
  readonly limits: Parameters<typeof setLimits>[0];
  readonly builtIn: BuiltInKeys;
  readonly content: readonly StoreOptions[];
  readonly findings: FindingSettings;
  readonly advice: AdviceSettings;
}

/** Models smaller than this, in bytes, are read in no time; nothing is remembered of them, and nothing written. */
export const worthRemembering = 64 * 1024;

const memoryFile = `${ownFolder}/model.json`;

/** A hash of the bytes of some files; `undefined` where they are few, or one cannot be read. */
export function fingerprintOf(root: string, files: readonly string[]): string | undefined {
  if (build === undefined) return undefined;

  const size = files.reduce((sum, file) => sum + (statOf(path.join(root, file))?.size ?? 0), 0);
  if (size < worthRemembering) return undefined;

  const hash = createHash('sha256').update(build);

  for (const file of files) {
    const bytes = readBytes(path.join(root, file));
    if ('problem' in bytes) return undefined;
    hash.update(`\0${file}\0${bytes.value.length}\0`).update(bytes.value);
  }

  return hash.digest('hex');
}

/**
 * The model that was read from the same bytes before. It is trusted only with our mark on it: what was damaged, edited
 * by hand or made elsewhere counts for nothing, and the files themselves are read.
 */
export function recall(root: string, fingerprint: string): Remembered | undefined {
  const [head = '', body] = atLineEnd(readOwnText(root, memoryFile) ?? '');
  const [name, mark] = head.split(' ');
  if (name !== fingerprint || body === undefined || !isOurs(`${fingerprint}\n${body}`, mark)) return undefined;
  const [settings, model = ''] = atLineEnd(body);
  // Of a large model some commands need no more than its hash.
  return { ...(JSON.parse(settings) as RememberedSettings), model: once(() => JSON.parse(model) as RememberedModel) };
}

function atLineEnd(text: string): readonly [before: string, after: string | undefined] {
  const end = text.indexOf('\n');
  if (end < 0) return [text, undefined];
  return [text.slice(0, end), text.slice(end + 1)];
}

/** Keeps a model for the next time. Where nothing can be written, nothing is lost by it. */
export function remember(root: string, fingerprint: string, { model, ...settings }: Remembered): void {
  try {
    const body = `${JSON.stringify(settings)}\n${JSON.stringify(model())}`;
    const mark = markOf(`${fingerprint}\n${body}`);
    if (mark === undefined) return;
    makeOwnFolder(root);
    writeOwn(root, memoryFile, `${fingerprint} ${mark}\n${body}`);
  } catch {
    // A folder that is read-only, a disk that is full.
  }
}
