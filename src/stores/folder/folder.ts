import fs from 'node:fs';
import path from 'node:path';
import { type EntryAddress, keyOf } from '../../core/entry/entry.ts';
import type { Operation } from '../../core/migration/operation.ts';
import { hashOf } from '../../core/plain/columns.ts';
import { compact, type Path } from '../../core/plain/json.ts';
import type { Limits } from '../../core/plain/limits.ts';
import type { Outcome } from '../../core/plain/outcome.ts';
import { writeYaml } from '../../core/source/write.ts';
import { type Span, textStart } from '../../core/source/yaml.ts';
import { decode } from '../../workspace/decode.ts';
import { refusingEdits } from '../../workspace/edited.ts';
import { hashBytes, readBytes } from '../../workspace/files.ts';
import { statesOf } from '../fileStates.ts';
import type { KeyNames } from '../keys.ts';
import { changedMeanwhile } from '../problem.ts';
import type {
  EntryChange,
  EntryStore,
  FileOfEntry,
  FileSink,
  Item,
  NewEntry,
  Part,
  Place,
  Problem,
  Stored,
  Transaction,
  WholeFile,
} from '../store.ts';
import { type EntryFile, endings, readEntryFile } from './entryFile.ts';
import { fileNameOf } from './fileName.ts';

/** A folder below a workspace in which entries lie as files: `<folder>/<type>/<id>.md`, `.yaml`, `.yml` or `.json`. */
export interface FolderSettings {
  readonly name: string;
  /** Its path below the workspace, without a slash at its end. */
  readonly folder: string;
  /** The type of entries that do not say their own; else the name of the folder that they lie in below it. */
  readonly type: string | undefined;
  readonly keys: KeyNames;
  readonly limits: Limits;
  /** The files that it reads, in order; asked for each time, since they come and go. */
  readonly files: () => readonly string[];
}

/** A file that was read: its bytes, and their content. */
interface Read {
  readonly file: string;
  readonly hash: string;
  readonly bytes: Buffer;
  readonly read: EntryFile;
}

/** Some files of a folder; absent where the part is the whole folder. */
interface FolderPart extends Part {
  readonly files?: readonly string[];
}

/** The store of entries that are files of a folder. */
export class FolderStore implements EntryStore<FolderPart> {
  readonly can = { restoreBytes: true };
  readonly #root: string;
  readonly #settings: FolderSettings;
  /** Questions about an entry mostly follow its reading. */
  #last: Read | undefined;
  #listed: { readonly at: number; readonly files: ReadonlySet<string> } | undefined;

  constructor(root: string, settings: FolderSettings) {
    this.#root = root;
    this.#settings = settings;
  }

  /** Cut behind certain names, so that a file more or less changes one part alone. */
  async parts(atMost: number): Promise<readonly FolderPart[]> {
    const { name: store, files } = this.#settings;
    if (atMost <= 1) return [{ store }];

    const allFiles = files();
    const least = Math.max(worthAPart, Math.ceil(allFiles.length / atMost));
    const parts: string[][] = [[]];
    for (const file of allFiles) {
      const part = parts.at(-1) ?? [];
      part.push(file);
      if (part.length >= least && (hashOf(file) % 64 === 0 || part.length >= 2 * least)) parts.push([]);
    }

    return parts.filter((some) => some.length > 0).map((some) => ({ store, files: some }));
  }

  fingerprint({ files }: FolderPart): string | undefined {
    return files && statesOf(this.#root, files);
  }

  *read({ files = this.#settings.files() }: FolderPart): Iterable<Item> {
    for (const file of files) yield this.#itemOf(this.#readFile(file));
  }

  async get(address: EntryAddress, near?: Place): Promise<Stored | undefined> {
    const { name, files } = this.#settings;
    const usual = endings.map((ending) => placeOf(this.#settings, address) + ending);
    const knownFiles = near?.store === name ? [near.file] : [];
    const likely = [...knownFiles, ...usual].filter((file) => fs.existsSync(path.join(this.#root, file)));
    return this.#firstNamed(likely, address) ?? this.#firstNamed(files(), address);
  }

  async locate({ file }: Place, path: Path, body?: string): Promise<Span> {
    const read = this.#last?.file === file ? this.#last : this.#readFile(file);
    if ('read' in read) return read.read.locate(path, body);
    return textStart;
  }

  async attempt({ stored, operations = [] }: EntryChange): Promise<void> {
    if (stored) rewritten(this.#readAsKnown(stored), operations);
  }

  wholeFile(file: string, bytes: Buffer): Outcome<FileOfEntry, Problem> | undefined {
    const { folder } = this.#settings;
    const isHere = file.startsWith(`${folder}/`) && endings.some((ending) => file.endsWith(ending));
    if (!isHere || (fs.existsSync(path.join(this.#root, file)) && !this.#isListed(file))) return undefined;

    const text = decode(bytes);
    if ('problem' in text) return text;

    const read = readEntryFile({ ...this.#settings, file }, text.value);
    if ('problem' in read) return read;

    const { entry, locate, rewrite } = read.value;

    return {
      value: {
        entry,
        locate,
        rewrite: (operations) => {
          const become = refusingEdits(file, () => rewrite(operations));
          return become && { path: become.file, bytes: Buffer.from(become.text, 'utf8') };
        },
      },
    };
  }

  /** Whether a file is one to itself. Many are requested in a row, and listing a large folder takes a while. */
  #isListed(file: string): boolean {
    const currentTime = performance.now();
    if (!this.#listed || currentTime - this.#listed.at > shortly)
      this.#listed = { at: currentTime, files: new Set(this.#settings.files()) };
    return this.#listed.files.has(file);
  }

  linesOf(): undefined {
    return undefined;
  }

  begin(sink: FileSink): Transaction {
    return {
      change: async ({ stored, operations = [], added = [] }) => {
        if (stored && operations.length > 0) sink.add(changedFile(this.#readAsKnown(stored), stored, operations));
        for (const entry of added) sink.add({ after: newFile(this.#settings, entry), entry: keyOf(entry) });
      },
      prepare: async () => undefined,
    };
  }

  #readFile(file: string): Read | Item {
    const { name } = this.#settings;
    const place: Place = { store: name, file };
    const fileBytes = readBytes(path.join(this.#root, file), this.#settings.limits);
    if ('problem' in fileBytes) return { place, version: 'unread', problem: fileBytes.problem };

    const bytes = fileBytes.value;
    const hash = hashBytes(bytes);
    const text = decode(bytes);
    if ('problem' in text) return { place, version: hash, problem: text.problem };

    const read = readEntryFile({ ...this.#settings, file }, text.value);
    if ('problem' in read) return { place, version: hash, problem: read.problem };

    this.#last = { file, hash, bytes, read: read.value };

    return this.#last;
  }

  #itemOf(read: Read | Item): Item {
    if (!('read' in read)) return read;
    return { place: { store: this.#settings.name, file: read.file }, version: read.hash, entry: read.read.entry };
  }

  #firstNamed(files: readonly string[], { type, id }: EntryAddress): Stored | undefined {
    for (const file of files) {
      const item = this.#itemOf(this.#readFile(file));
      if ('entry' in item && item.entry.type === type && item.entry.id === id) return item;
    }
    return undefined;
  }

  /** The file of an entry as it was read. @throws {Trouble} where it is another one now. */
  #readAsKnown({ place: { file }, version, entry }: Stored): Read {
    const read = this.#last?.file === file && this.#last.hash === version ? this.#last : this.#readFile(file);
    if ('read' in read && read.hash === version) return read;
    throw changedMeanwhile(entry, file);
  }
}

/** So long, in milliseconds, a list of files is treated as true. */
const shortly = 200;

/** Fewer files than this are read sooner than another thread is there. */
const worthAPart = 200;

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

/** The file of an entry, without its ending. */
const placeOf = (
  { folder, type: usual }: Pick<FolderSettings, 'folder' | 'type'>,
  { type, id }: EntryAddress,
): string => [folder, ...(usual === undefined ? [type] : []), fileNameOf(id)].join('/');

function newFile(settings: FolderSettings, { type, id, values }: NewEntry) {
  const { type: usual, keys } = settings;
  const typeKeys = usual === undefined || usual === type ? {} : { [keys.typeKeyToWrite(usual)]: type };
  return {
    path: `${placeOf(settings, { type, id })}.yaml`,
    bytes: Buffer.from(writeYaml({ ...typeKeys, ...keys.stored(values) }), 'utf8'),
  };
}
