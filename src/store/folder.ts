import fs from 'node:fs';
import path from 'node:path';
import { keyOf } from '../core/check/entry.ts';
import { CannotEdit } from '../core/source/edit.ts';
import { isTermsFile } from '../workspace/contentTerms.ts';
import { decode, hashBytes, listFiles, readBytes } from '../workspace/files.ts';
import { standingFile } from '../workspace/standing.ts';
import { Trouble } from '../workspace/trouble.ts';
import { endings, readEntryFile } from './entryFile.ts';
import type { EntryStore, Stored, Unreadable } from './store.ts';

/** The folder of a workspace in which entries lie as files: `content/<type>/<id>.md`, `.yaml`, `.yml` or `.json`. */
const contentFolder = 'content';

/**
 * The store of a workspace whose entries are files.
 * @param watch is called once for each entry that is read in a pass over all of them.
 */
export function folderStore(root: string, watch?: () => void): EntryStore {
  return {
    entries: async function* () {
      for (const file of entryFiles(root)) {
        watch?.();
        yield readStored(root, file);
      }
    },
    find: async (type, id) => {
      const usual = endings
        .map((ending) => `${contentFolder}/${type}/${id}${ending}`)
        .find((file) => fs.existsSync(path.join(root, file)));
      const first = usual === undefined ? undefined : readStored(root, usual);
      if (first && 'entry' in first && keyOf(first.entry) === keyOf({ type, id })) return first;
      for (const file of entryFiles(root)) {
        const stored = readStored(root, file);
        if ('entry' in stored && stored.entry.type === type && stored.entry.id === id) return stored;
      }
      return undefined;
    },
  };
}

const entryFiles = (root: string): readonly string[] =>
  listFiles(root, contentFolder, endings)
    .map((file) => `${contentFolder}/${file}`)
    .filter((file) => file !== standingFile && !isTermsFile(file));

function readStored(root: string, file: string): Stored | Unreadable {
  const bytes = readBytes(path.join(root, file));
  if ('notRead' in bytes)
    return {
      file,
      isLink: bytes.isLink === true,
      says: bytes.notRead,
      mend: bytes.mend,
      line: bytes.line,
      column: bytes.column,
      hash: 'unread',
    };
  const hash = hashBytes(bytes);
  const text = decode(bytes);
  if (typeof text !== 'string')
    return { file, isLink: false, says: text.notRead, mend: text.mend, line: text.line, column: text.column, hash };
  const read = readEntryFile(file, text);
  if ('says' in read) return { file, isLink: false, ...read, hash };
  return {
    entry: read.entry,
    file,
    hash,
    locate: read.locate,
    original: bytes,
    rewrite: (operations) => {
      const rewritten = withTrouble(file, () => read.rewrite(operations));
      return rewritten && { file: rewritten.file, content: Buffer.from(rewritten.text, 'utf8') };
    },
  };
}

function withTrouble<T>(file: string, edit: () => T): T {
  try {
    return edit();
  } catch (error) {
    if (!(error instanceof CannotEdit)) throw error;
    throw new Trouble(
      'cannot-edit',
      `${file} cannot be edited without touching more than the change: ${error.message}`,
      {
        mend: 'Write the value out plainly in that file (no anchors, no aliases), then try again.',
        where: { file },
        cause: error,
      },
    );
  }
}
