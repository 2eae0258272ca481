import { createHash } from 'node:crypto';
import { build } from '../build.ts';
import { isOurs, markOf } from '../localKey.ts';

/** The files of a memory, by paths below its folder. Each function may throw: then nothing is remembered. */
export interface MemoryFiles {
  /** The bytes of a file; `undefined` where there is none. */
  readonly read: (file: string) => Buffer | undefined;
  /** Writes a file, whole or not at all. */
  readonly write: (file: string, content: Buffer) => void;
  /** The names in a folder; none where it is not there. */
  readonly names: (folder: string) => readonly string[];
  /** Removes a file or a folder. */
  readonly remove: (place: string) => void;
}

/** The length of a mark, in bytes: it precedes the marked bytes. */
const markLength = 64;

/**
 * What was worked out before: bytes, each under a key in a space of its own.
 *
 * One rule says what may be believed: bytes that carry our mark (see localKey.ts) over this build, their space, their key and
 * themselves. What was damaged, edited, moved or made elsewhere counts for nothing, and is worked out anew. Where nothing can
 * be read or written, nothing is lost by it.
 */
export class Memory {
  readonly #files: MemoryFiles;

  constructor(files: MemoryFiles) {
    this.#files = files;
  }

  recall(space: string, key: string): Buffer | undefined {
    return quietly(() => {
      const content = build === undefined ? undefined : this.#files.read(`${space}/${key}`);
      if (!content) return undefined;

      const body = content.subarray(markLength);
      if (!isOurs(contentOf(space, key, body), content.toString('latin1', 0, markLength))) return undefined;
      return body;
    });
  }

  /** @returns whether it is kept. */
  keep(space: string, key: string, body: Buffer): boolean {
    const isKept = quietly(() => {
      const mark = build === undefined ? undefined : markOf(contentOf(space, key, body));
      if (mark === undefined) return false;
      this.#files.write(`${space}/${key}`, Buffer.concat([Buffer.from(mark, 'latin1'), body]));
      return true;
    });
    return isKept === true;
  }

  /** The spaces. */
  spaces(): readonly string[] {
    return quietly(() => this.#files.names('')) ?? [];
  }

  /** The keys in a space. Whether what is under them may be believed shows when it is recalled. */
  keys(space: string): readonly string[] {
    return quietly(() => this.#files.names(space)) ?? [];
  }

  /** Forgets what is under a key; the whole space where there is none. */
  forget(space: string, key?: string): void {
    quietly(() => this.#files.remove(key === undefined ? space : `${space}/${key}`));
  }
}

/** What a mark is made of. */
const contentOf = (space: string, key: string, body: Buffer): string =>
  [build, space, key, createHash('sha256').update(body).digest('hex')].join('\n');

/** Does something with the disk; a folder that is read-only, a link or a full disk is in nobody's way. */
function quietly<T>(work: () => T): T | undefined {
  try {
    return work();
  } catch {
    return undefined;
  }
}
