import fs from 'node:fs';
import path from 'node:path';
import { type EntryAddress, keyOf } from '../../core/entry/entry.ts';
import type { Operation } from '../../core/migration/operation.ts';
import { compact } from '../../core/plain/json.ts';
import { writeYaml } from '../../core/source/write.ts';
import type { Span } from '../../core/source/yaml.ts';
import { refusingEdits } from '../../workspace/edited.ts';
import { decode, hashBytes, readBytes } from '../../workspace/files.ts';
import { refuse } from '../../workspace/trouble.ts';
import type { EntryStore, Item, NewEntry, Place, Stored, WholeFile } from '../store.ts';
import { type EntryFile, endings, readEntryFile } from './entryFile.ts';

/** A folder below a workspace in which entries lie as files: `<folder>/<type>/<id>.md`, `.yaml`, `.yml` or `.json`. */
export interface FolderSettings {
  readonly name: string;
  /** Its path below the workspace, without a slash at its end. */
  readonly folder: string;
  /** The files that it reads, in order; asked for each time, since they come and go. */
  readonly files: () => readonly string[];
}

/** A file that was read: its bytes, and what they say. */
interface Read {
  readonly file: string;
  readonly hash: string;
  readonly bytes: Buffer;
  readonly read: EntryFile;
}

/** The store of entries that are files of a folder. */
export function folderStore(root: string, { name, folder, files }: FolderSettings): EntryStore {
  // What is asked about an entry mostly follows upon reading it.
  let last: Read | undefined;

  const readFile = (file: string): Read | Item => {
    const place: Place = { store: name, file };
    const bytes = readBytes(path.join(root, file));
    if ('notRead' in bytes) {
      const { notRead: says, ...problem } = bytes;
      return { place, version: 'unread', problem: { says, ...problem } };
    }
    const hash = hashBytes(bytes);
    const text = decode(bytes);
    if (typeof text !== 'string') {
      const { notRead: says, ...problem } = text;
      return { place, version: hash, problem: { says, ...problem } };
    }
    const read = readEntryFile(file, text, folder);
    if ('says' in read) return { place, version: hash, problem: read };
    last = { file, hash, bytes, read };
    return last;
  };
  const itemOf = (read: Read | Item): Item =>
    'read' in read ? { place: { store: name, file: read.file }, version: read.hash, entry: read.read.entry } : read;
  const fileAt = ({ file }: Place, version?: string): Read | undefined => {
    if (last?.file === file && (version === undefined || last.hash === version)) return last;
    const read = readFile(file);
    return 'read' in read ? read : undefined;
  };

  const firstNamed = (some: readonly string[], { type, id }: EntryAddress): Stored | undefined => {
    for (const file of some) {
      const item = itemOf(readFile(file));
      if ('entry' in item && item.entry.type === type && item.entry.id === id) return item;
    }
    return undefined;
  };

  /** The file of an entry as it was read. @throws {Trouble} where it is another one by now. */
  const readAsKnown = ({ place, version, entry }: Stored): Read => {
    const read = fileAt(place, version);
    if (read && read.hash === version) return read;
    throw refuse('changed-meanwhile', `${keyOf(entry)} changed while it was worked on`, {
      mend: 'Nothing was written. Try again.',
      where: { file: place.file },
    });
  };
  return {
    can: { positions: true, ownTransactions: false, restoreBytes: true },
    parts: async () => [{ store: name }],
    read: async function* () {
      for (const file of files()) yield itemOf(readFile(file));
    },
    get: async (address, near) => {
      const usual = endings.map((ending) => `${folder}/${address.type}/${address.id}${ending}`);
      const known = near?.store === name ? [near.file] : [];
      const likely = [...known, ...usual].filter((one) => fs.existsSync(path.join(root, one)));
      return firstNamed(likely, address) ?? firstNamed(files(), address);
    },
    locate: async (place, at, body) => fileAt(place)?.read.locate(at, body) ?? start,
    attempt: async ({ of, operations = [] }) => {
      if (of) rewritten(readAsKnown(of), operations);
    },
    begin: (sink) => ({
      change: async ({ of, operations = [], added = [] }) => {
        if (of && operations.length > 0) sink.add(changedFile(readAsKnown(of), of, operations));
        for (const entry of added) sink.add({ after: newFile(folder, entry), entry: keyOf(entry) });
      },
      prepare: async () => undefined,
    }),
  };
}

const start: Span = { start: { line: 1, column: 1 }, end: { line: 1, column: 1 } };

/** @throws {Trouble} where the file cannot be edited without touching more than the operations. */
const rewritten = ({ file, read }: Read, operations: readonly Operation[]) =>
  refusingEdits(file, () => read.rewrite(operations));

function changedFile(read: Read, { entry }: Stored, operations: readonly Operation[]): WholeFile {
  const become = rewritten(read, operations);
  return compact({
    before: { path: read.file, hash: read.hash, bytes: read.bytes },
    after: become && { path: become.file, bytes: Buffer.from(become.text, 'utf8') },
    entry: keyOf(entry),
  });
}

const newFile = (folder: string, { type, id, values }: NewEntry) => ({
  path: `${folder}/${type}/${id}.yaml`,
  bytes: Buffer.from(writeYaml(values), 'utf8'),
});
