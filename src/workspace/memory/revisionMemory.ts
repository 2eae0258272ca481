import { memoryOf } from './ofWorkspace.ts';
import { worthRemembering } from './worth.ts';

const space = 'revisions';
const nothing = Buffer.alloc(0);

/**
 * Which revisions were looked through before and found without mistakes, by their hashes: so much need not be done again
 * of what never changes.
 */
export class RevisionMemory {
  readonly #memory;
  readonly #sound = new Set<string>();

  constructor(root: string) {
    this.#memory = memoryOf(root);
  }

  /** Whether a text with this hash was found to be a revision. */
  isSound(hash: string, text: string): boolean {
    if (text.length < worthRemembering || !this.#memory.recall(space, hash)) return false;
    this.#sound.add(hash);
    return true;
  }

  /** Notes a revision that was read. */
  note(hash: string, text: string): void {
    if (text.length < worthRemembering || this.#sound.has(hash)) return;
    if (this.#memory.keep(space, hash, nothing)) this.#sound.add(hash);
  }

  /** Forgets revisions that are not there any more. */
  forgetOthers(): void {
    if (this.#sound.size === 0) return;
    for (const hash of this.#memory.keys(space)) if (!this.#sound.has(hash)) this.#memory.forget(space, hash);
  }
}
