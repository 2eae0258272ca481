import fs from 'node:fs';
import path from 'node:path';
import type { EntryAddress } from '../core/entry/entry.ts';
import { contentRevisionFile } from '../workspace/contentRevision.ts';
import { isTermsFile } from '../workspace/contentTerms.ts';
import { refusingEdits } from '../workspace/edited.ts';
import { decode, hashBytes, listFiles, readBytes } from '../workspace/files.ts';
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
    find: async (type, id, file) => {
      const usual = endings.map((ending) => `${contentFolder}/${type}/${id}${ending}`);
      const likely = [...(file === undefined ? [] : [file]), ...usual].filter((one) =>
        fs.existsSync(path.join(root, one)),
      );
      return firstNamed(root, likely, { type, id }) ?? firstNamed(root, entryFiles(root), { type, id });
    },
  };
}

/** The first of some files that holds the entry with an address. */
function firstNamed(root: string, files: readonly string[], { type, id }: EntryAddress): Stored | undefined {
  for (const file of files) {
    const stored = readStored(root, file);
    if ('entry' in stored && stored.entry.type === type && stored.entry.id === id) return stored;
  }
  return undefined;
}

/** The files below the content folder that hold entries, in order. */
export const entryFiles = (root: string): readonly string[] =>
  listFiles(root, contentFolder, endings)
    .map((file) => `${contentFolder}/${file}`)
    .filter((file) => file !== contentRevisionFile && !isTermsFile(file));

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
      const rewritten = refusingEdits(file, () => read.rewrite(operations));
      return rewritten && { file: rewritten.file, content: Buffer.from(rewritten.text, 'utf8') };
    },
  };
}
