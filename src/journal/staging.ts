import path from 'node:path';
import { flushFolder, statOf } from '../workspace/files.ts';
import { moveOwn, ownFolder, ownNames, removeOwn, writeOwn } from '../workspace/ownFolder.ts';
import { type FileChange, planText, type RunPlan } from './plan.ts';
import { asideRuns, type Run, runsFolder, stateText } from './runs.ts';

/** A change with the bytes of both its sides. */
export interface Staged extends FileChange {
  readonly original?: Buffer;
  readonly content?: Buffer;
}

/** Where journals are written. What lies here was provably never begun: a journal begins by being moved out of here. */
const stagingFolder = `${ownFolder}/staging`;

/**
 * The journal of a run while it is written: originals and new contents, each flushed to the disk as it comes, so that
 * no more than one entry is held in memory. Nothing else is touched, and until {@link Staging.begin} the journal counts
 * for nothing.
 */
export class Staging {
  readonly #root: string;
  readonly #name: string;
  readonly #files: FileChange[] = [];
  readonly #seen: string[] = [];

  /** @param migration its number, for whoever looks into the folder of journals. */
  constructor(root: string, migration: number) {
    this.#root = root;
    this.#name = `${padded(nextNumber(root), 6)}-${padded(migration, 4)}`;
  }

  get #folder(): string {
    return `${stagingFolder}/${this.#name}`;
  }

  add({ before, after, entry, original, content }: Staged): void {
    if (before && original) this.#keep(before.hash, original);
    if (after && content) this.#keep(after.hash, content);
    this.#files.push({
      ...(before ? { before } : {}),
      ...(after ? { after } : {}),
      ...(entry === undefined ? {} : { entry }),
    });
  }

  /** Notes that there was a file, so that one that was not can be told from it later. */
  see(file: string): void {
    this.#seen.push(file);
  }

  #keep(hash: string, content: Buffer): void {
    const file = `${this.#folder}/${hash}`;
    if (!statOf(path.join(this.#root, file))) writeOwn(this.#root, file, content);
  }

  /** The changes so far, without their bytes. */
  get files(): readonly FileChange[] {
    return this.#files;
  }

  /** Completes the journal and begins the run: from this instant on it is either finished or taken back. */
  begin(parts: Omit<RunPlan, 'files'>): Run {
    const plan: RunPlan = { ...parts, files: this.#files };
    const { text, checksum } = planText(plan);
    writeOwn(this.#root, `${this.#folder}/seen`, this.#seen.map((file) => `${JSON.stringify(file)}\n`).join(''));
    writeOwn(this.#root, `${this.#folder}/plan.json`, text);
    writeOwn(this.#root, `${this.#folder}/state`, stateText('running', checksum));
    const folder = `${runsFolder}/${this.#name}`;
    moveOwn(this.#root, this.#folder, folder);
    flushFolder(path.join(this.#root, runsFolder));
    return { folder, state: 'running', plan, checksum, isOurs: true };
  }

  /** Takes the journal away again: what it was for did not come about. */
  discard(): void {
    removeOwn(this.#root, this.#folder);
  }
}

/** Whether there are journals that were never begun. */
export const hasUnbegun = (root: string): boolean => ownNames(root, stagingFolder).length > 0;

/** Removes journals that were never begun: a stop before the first file was touched left them. */
export function removeUnbegun(root: string): void {
  for (const name of ownNames(root, stagingFolder)) removeOwn(root, `${stagingFolder}/${name}`);
}

/** Runs are ordered by number, never by the clock, which may be set back. */
function nextNumber(root: string): number {
  const names = [...ownNames(root, runsFolder), ...asideRuns(root)];
  return Math.max(0, ...names.map((name) => Number.parseInt(name, 10)).filter(Number.isSafeInteger)) + 1;
}

const padded = (number: number, digits: number): string => String(number).padStart(digits, '0');
