import path from 'node:path';
import { compact } from '../core/plain/json.ts';
import type { FileDraft, FileSink, WholeFile } from '../stores/store.ts';
import { flushFolder, hashBytes, refuseLinksTo, statOf } from '../workspace/files.ts';
import { copyFile, flushFile, NewFile } from '../workspace/largeFiles.ts';
import { moveOwn, ownFolder, ownNames, ownPath, removeOwn, writeOwn } from '../workspace/ownFolder.ts';
import { modeOf } from './fileState.ts';
import { type FileChange, planText, type RunPlan } from './plan.ts';
import { asideRuns, type Run, runsFolder, stateText } from './runs.ts';
import { refuseUnwritable } from './writable.ts';

/** Where journals are written. What lies here was provably never begun: a journal begins by being moved out of here. */
const stagingFolder = `${ownFolder}/staging`;

/**
 * The journal of a run while it is written: originals and new contents, so that no more than one entry is kept in
 * memory. Other files are not touched, and until {@link Staging.begin} the journal counts for nothing: so what it holds is
 * flushed to the disk then, all of it together.
 */
export class Staging implements FileSink {
  readonly #root: string;
  readonly #name: string;
  readonly #files: FileChange[] = [];
  readonly #seen = new Set<string>();
  /** Files written but not flushed yet. */
  readonly #fresh = new Set<string>();
  #drafts = 0;

  /** @param migration its number, for anyone who looks into the folder of journals. */
  constructor(root: string, migration: number) {
    this.#root = root;
    this.#name = `${padded(nextNumber(root), 6)}-${padded(migration, 4)}`;
  }

  get #folder(): string {
    return `${stagingFolder}/${this.#name}`;
  }

  add({ before, after, entry }: WholeFile): void {
    const mode = modeOf(this.#root, (before ?? after)?.path ?? '');
    if (after) refuseLinksTo(this.#root, after.path);
    if (before) this.#keep(before.hash, before.bytes);
    const hash = after && hashBytes(after.bytes);
    if (after && hash !== undefined) this.#keep(hash, after.bytes);
    this.#files.push(
      compact({
        before: before && compact({ path: before.path, hash: before.hash, mode }),
        after: after && hash !== undefined ? compact({ path: after.path, hash, mode }) : undefined,
        entry,
      }),
    );
  }

  /** Takes a change whose bytes another journal keeps, however large they are. @param from the folder of that journal. */
  addKept(change: FileChange, from: string): void {
    for (const state of [change.before, change.after]) {
      if (!state) continue;
      refuseLinksTo(this.#root, state.path);
      const file = `${this.#folder}/${state.hash}`;
      if (this.#fresh.has(state.hash) || statOf(path.join(this.#root, file))) continue;
      copyFile(ownPath(this.#root, `${from}/${state.hash}`), ownPath(this.#root, file));
      this.#fresh.add(state.hash);
    }

    this.#files.push(change);
  }

  keep(file: string): { readonly copy: string; readonly hash: string } {
    const draft = `${this.#folder}/draft`;
    refuseLinksTo(this.#root, file);
    const hash = copyFile(path.join(this.#root, file), ownPath(this.#root, draft));
    const stagedFile = `${this.#folder}/${hash}`;
    moveOwn(this.#root, draft, stagedFile);
    return { copy: ownPath(this.#root, stagedFile), hash };
  }

  rewrite(file: string, hash: string): FileDraft {
    this.#drafts += 1;
    const name = `${this.#folder}/draft-${this.#drafts}`;
    const draft = new NewFile(ownPath(this.#root, name));
    const mode = modeOf(this.#root, file);

    return {
      write: (bytes) => draft.write(bytes),
      done: () => {
        const become = draft.done();
        moveOwn(this.#root, name, `${this.#folder}/${become}`);
        this.#files.push({
          before: compact({ path: file, hash, mode }),
          after: compact({ path: file, hash: become, mode }),
        });
      },
    };
  }

  /** Notes that there was a file, so that one that was not can be reported from it later. */
  see(file: string): void {
    this.#seen.add(file);
  }

  #keep(hash: string, content: Buffer): void {
    if (this.#fresh.has(hash) || statOf(path.join(this.#root, this.#folder, hash))) return;
    const file = new NewFile(ownPath(this.#root, `${this.#folder}/${hash}`));
    file.write(content);
    file.done(undefined, false);
    this.#fresh.add(hash);
  }

  /** The changes so far, without their bytes. */
  get files(): readonly FileChange[] {
    return this.#files;
  }

  /**
   * Completes the journal and begins the run: from this instant on it is either finished or taken back.
   * @throws {Trouble} where something would stop it in its middle that can be known: rights, names, space.
   */
  begin(parts: Omit<RunPlan, 'files'>): Run {
    refuseUnwritable(this.#root, this.#files, this.#folder);
    const plan: RunPlan = { ...parts, files: this.#files };
    const { text, checksum } = planText(plan);
    for (const hash of this.#fresh) flushFile(path.join(this.#root, this.#folder, hash));

    writeOwn(this.#root, `${this.#folder}/seen`, [...this.#seen].map((file) => `${JSON.stringify(file)}\n`).join(''));
    writeOwn(this.#root, `${this.#folder}/plan.json`, text);
    writeOwn(this.#root, `${this.#folder}/state`, stateText('running', checksum));
    const folder = `${runsFolder}/${this.#name}`;
    moveOwn(this.#root, this.#folder, folder);
    flushFolder(path.join(this.#root, runsFolder));

    return { folder, state: 'running', plan, checksum, isOurs: true };
  }

  /** Takes the journal away again: its run did not begin. */
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
