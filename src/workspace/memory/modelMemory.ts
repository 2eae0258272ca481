import { createHash } from 'node:crypto';
import path from 'node:path';
import type { BuiltInKeys } from '../../core/definition/builtIn.ts';
import type { ModelDoc } from '../../core/definition/model.ts';
import type { AdviceSettings, FindingSettings, StoreOptions } from '../../core/definition/workspace.ts';
import { anySize, type Limits } from '../../core/plain/limits.ts';
import { once } from '../../core/plain/once.ts';
import type { ContentTerms } from '../../core/taxonomy/linkTaxonomy.ts';
import { readBytes, statOf } from '../files.ts';
import { memoryOf } from './ofWorkspace.ts';
import { worthRemembering } from './worth.ts';

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
  readonly limits: Limits;
  readonly builtIn: BuiltInKeys;
  readonly content: readonly StoreOptions[];
  readonly findings: FindingSettings;
  readonly advice: AdviceSettings;
}

const space = 'model';

/** A hash of the bytes of some files; `undefined` where they are few, or one cannot be read. */
export function fingerprintOf(root: string, files: readonly string[]): string | undefined {
  const size = files.reduce((sum, file) => sum + (statOf(path.join(root, file))?.size ?? 0), 0);
  if (size < worthRemembering) return undefined;

  const hash = createHash('sha256');

  for (const file of files) {
    const bytes = readBytes(path.join(root, file), anySize);
    if ('problem' in bytes) return undefined;
    hash.update(`\0${file}\0${bytes.value.length}\0`).update(bytes.value);
  }

  return hash.digest('hex');
}

/** The model that was read from the same bytes before. */
export function recall(root: string, fingerprint: string): Remembered | undefined {
  const body = memoryOf(root).recall(space, fingerprint);
  if (!body) return undefined;

  const end = body.indexOf('\n');
  const settings = JSON.parse(body.toString('utf8', 0, end)) as RememberedSettings;
  // Of a large model some commands need no more than its hash.
  return { ...settings, model: once(() => JSON.parse(body.toString('utf8', end)) as RememberedModel) };
}

/** Keeps a model for the next time, and none beside it. */
export function remember(root: string, fingerprint: string, { model, ...settings }: Remembered): void {
  const memory = memoryOf(root);
  memory.forget(space);
  memory.keep(space, fingerprint, Buffer.from(`${JSON.stringify(settings)}\n${JSON.stringify(model())}`, 'utf8'));
}
