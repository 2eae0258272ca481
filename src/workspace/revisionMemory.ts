import { build } from './build.ts';
import { isOurs, markOf } from './localKey.ts';
import { worthRemembering } from './modelMemory.ts';
import { makeOwnFolder, ownFolder, readOwnText, writeOwn } from './ownFolder.ts';

const memoryFile = `${ownFolder}/revisions`;

/**
 * Which revisions were looked through before and found without mistakes, by their hashes: so much need not be done again
 * of what never changes. Each line is trusted only with our mark on it.
 */
export class RevisionMemory {
  readonly #root: string;
  /** The lines of the revisions that are there still. */
  readonly #lines: string[] = [];
  #isChanged = false;
  #known: ReadonlyMap<string, string> | undefined;

  constructor(root: string) {
    this.#root = root;
  }

  /** Whether a text with this hash was found to be a revision by this very build. */
  isSound(hash: string, text: string): boolean {
    if (build === undefined || text.length < worthRemembering) return false;
    this.#known ??= this.#read();
    const mark = this.#known.get(hash);
    return mark !== undefined && isOurs(contentOf(hash), mark);
  }

  /** Notes a revision that was read. */
  note(hash: string, text: string): void {
    if (build === undefined || text.length < worthRemembering) return;
    const existing = this.#known?.get(hash);
    const mark = existing !== undefined && isOurs(contentOf(hash), existing) ? existing : markOf(contentOf(hash));
    if (mark === undefined) return;
    if (mark !== existing) this.#isChanged = true;
    this.#lines.push(`${hash} ${mark}\n`);
  }

  /** Keeps what was noted for the next time. Where nothing can be written, nothing is lost by it. */
  keep(): void {
    if (!this.#isChanged) return;
    try {
      makeOwnFolder(this.#root);
      writeOwn(this.#root, memoryFile, this.#lines.join(''));
    } catch {
      // A folder that is read-only, a disk that is full.
    }
  }

  #read(): ReadonlyMap<string, string> {
    try {
      const lines = (readOwnText(this.#root, memoryFile) ?? '').split('\n');
      return new Map(lines.map((line) => line.split(' ', 2) as [string, string]));
    } catch {
      return new Map();
    }
  }
}

const contentOf = (hash: string): string => `a sound revision\n${build}\n${hash}`;
