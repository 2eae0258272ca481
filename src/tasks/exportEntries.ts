import { z } from 'zod';
import { type Entry, keyOf } from '../core/entry/entry.ts';
import type { EntryFormat, EntryWriting, Piece } from '../core/export/entries/define.ts';
import { entryFormats } from '../core/export/entries/index.ts';
import { EntryReader } from '../core/export/entries/reader.ts';
import { valuesOf } from '../core/export/entries/values.ts';
import type { Exported, Reading } from '../core/export/formats/define.ts';
import { readingOrder } from '../core/model/languages.ts';
import type { Model } from '../core/model/link.ts';
import { compact, type JsonObject } from '../core/plain/json.ts';
import { didYouMean } from '../core/plain/nearest.ts';
import { list } from '../core/plain/words.ts';
import { eachEntry } from '../passes/pass.ts';
import { walk } from '../passes/walk.ts';
import { fileNameLimit, fileNameOf } from '../stores/folder/fileName.ts';
import { openStore } from '../stores/open.ts';
import type { EntryStore, Place } from '../stores/store.ts';
import { timestamp } from '../workspace/clock.ts';
import { OutFiles } from '../workspace/outFiles.ts';
import { Trouble } from '../workspace/trouble.ts';
import type { Call } from './call.ts';
import { compileCondition, entriesMeeting } from './conditionOver.ts';
import { factKeysIn, typesNamed } from './exportModel.ts';
import { Loss, Losses } from './losses.ts';
import { readIn, reading } from './openForCall.ts';
import { OutgoingText, type Print, UnwrittenFiles } from './outgoingText.ts';
import { head, resultVersion } from './result.ts';

/** The result of `lumbrik export`. */
export const ExportEntriesResult = z.strictObject({
  ...head('export'),
  as: z.string(),
  types: z.array(z.string()),
  entries: z.int(),
  /** How many of the types that were requested are left out: what readers do not see, or a condition does not take. */
  leftOut: z.int(),
  /** The file or folder that was written; nothing where it went to standard output. */
  out: z.string().optional(),
  files: z.int(),
  /** What the form cannot hold, and was left out of it. */
  lost: z.array(Loss),
  /** What goes with the entries and does something in programs that open it. */
  warnings: z.array(Loss),
  unreadable: z.int(),
});
export type ExportEntriesResult = z.output<typeof ExportEntriesResult>;

/** The options of an export of entries. */
export interface ExportEntriesCall {
  readonly as: string | undefined;
  /** Types; all of them where none is named. */
  readonly types: readonly string[];
  readonly where?: string | undefined;
  /** What is stated in several languages is stated in this one, or the one that is in for it. */
  readonly language?: string | undefined;
  /** Only what readers see at this moment, and only references to that. */
  readonly isPublic: boolean;
  /** So many references deep, entries are where they are pointed at. */
  readonly depth: number;
  /** The file or folder to write. */
  readonly out?: string | undefined;
  /** Whether cells that a spreadsheet would compute have an apostrophe before them. */
  readonly isGuarded: boolean;
  /** Whether only what the form cannot hold is reported, and nothing written. */
  readonly isOnlyLosses: boolean;
}

/**
 * Writes entries in a form for other programs, one after the other: there may be more of them than memory holds.
 * @param print takes the text where no file is named.
 */
export async function exportEntries(
  call: Call,
  request: ExportEntriesCall,
  print: Print,
): Promise<ExportEntriesResult> {
  const format = formatNamed(request.as);
  const workspace = await reading(call);
  const model = readIn(workspace, request.language);
  const types = typesNamed(request.types, model);
  const entryReading = readingAsked(request, model);
  const isReading = entryReading.order !== undefined || entryReading.publicAt !== undefined || entryReading.depth > 0;
  refuseReading(format, isReading);
  const exported: Exported = compact({
    workspace: workspace.name,
    model,
    types,
    factKeys: factKeysIn(workspace),
    call: '',
    reading: isReading ? entryReading : undefined,
    guard: request.isGuarded ? true : undefined,
  });
  const isFolder = format.isFolder(exported);
  if (isFolder) refuseWithoutFolder(format, request);

  const store = openStore(workspace);
  const find = await finder(store, call, entryReading);
  const reader = isReading ? new EntryReader(model, entryReading, find) : undefined;
  const names = new Set(types.map(({ name }) => name));
  const condition = request.where === undefined ? undefined : compileCondition(request.where, types);
  const isMeant = condition ? await entriesMeeting(condition, store, model) : () => true;
  const outgoing = new Outgoing(format, exported, new OutgoingText(filesFor(workspace.root, request, isFolder), print));
  const take = (entry: Entry, values: JsonObject | undefined) => outgoing.take(entry, values);
  const pass = eachEntry({
    see: ({ entry }) => {
      if (!names.has(entry.type)) return undefined;
      if (!isMeant(entry)) return take(entry, undefined);
      if (!reader) return take(entry, valuesOf(entry, model.types.get(entry.type)));
      return reader.read(entry).then((values) => take(entry, values));
    },
    unreadable: () => outgoing.miss(),
    finish: () => undefined,
  });
  await outgoing.writing(async () => {
    await walk(store, [pass], call);
  });

  return {
    lumbrik: resultVersion,
    command: 'export',
    as: format.name,
    types: types.map(({ name }) => name),
    ...outgoing.told(),
    ...(request.out === undefined || request.isOnlyLosses ? {} : { out: request.out }),
  };
}

/** How entries are read, as a call asks for it. */
const readingAsked = ({ language, isPublic, depth }: ExportEntriesCall, model: Model): Reading => ({
  order: language === undefined ? undefined : readingOrder(model.definition, language),
  publicAt: isPublic ? timestamp() : undefined,
  depth,
});

/** @throws {Trouble} where a folder is to be written and nobody named one. */
function refuseWithoutFolder({ name }: EntryFormat, { out: folder, isOnlyLosses }: ExportEntriesCall): void {
  if (folder !== undefined || isOnlyLosses) return;
  throw new Trouble('unusable-call', `${name} is a folder of files here, and nobody said where it is to be`, {
    mend: `Say --out <folder>${name === 'csv' ? ', or name one type' : ''}.`,
  });
}

function filesFor(root: string, { out: outFile, isOnlyLosses }: ExportEntriesCall, isFolder: boolean) {
  if (isOnlyLosses) return new UnwrittenFiles();
  if (outFile === undefined) return undefined;
  return new OutFiles(root, outFile, isFolder);
}

/** Entries on their way out, with what could not go with them. */
class Outgoing {
  readonly #writing: EntryWriting;
  readonly #out: OutgoingText;
  readonly #losses = new Losses();
  readonly #warnings = new Losses();
  readonly #counts = { entries: 0, leftOut: 0, unreadable: 0 };

  constructor(format: EntryFormat, exported: Exported, outgoing: OutgoingText) {
    this.#writing = format.writing(exported);
    this.#out = outgoing;
  }

  /** Also writes the text before and after the entries. */
  writing(entries: () => Promise<void>): Promise<void> {
    return this.#out.whole(async () => {
      const first = this.#writing.begin?.();
      if (first) this.#put(first);
      await entries();
      for (const piece of this.#writing.finish?.() ?? []) this.#put(piece);
    });
  }

  /** Takes an entry; without values it is left out. @returns what has to be waited for, if anything. */
  take(entry: Entry, values: JsonObject | undefined): Promise<void> | undefined {
    if (!values) {
      this.#counts.leftOut += 1;
      return undefined;
    }

    const lost = (loss: string): void => this.#losses.add(entry, loss);
    const warn = (warning: string): void => this.#warnings.add(entry, warning);
    const pieces = this.#writing.put({ type: entry.type, id: entry.id, values, stored: entry }, lost, warn);
    const refused = pieces.map((piece) => this.#whyNot(piece)).find((reason) => reason !== undefined);
    if (refused !== undefined) {
      lost(refused);
      return undefined;
    }

    for (const piece of pieces) this.#put(piece);
    this.#counts.entries += 1;

    return this.#out.flush();
  }

  /** Something cannot be read as an entry. */
  miss(): void {
    this.#counts.unreadable += 1;
  }

  told() {
    return { ...this.#counts, files: this.#out.files, lost: this.#losses.all(), warnings: this.#warnings.all() };
  }

  #put(piece: Piece): void {
    this.#out.put(piece.text, fileOf(piece));
  }

  /** Why a file cannot hold an entry alone. */
  #whyNot(piece: Piece): string | undefined {
    if (piece.entry?.id === undefined) return undefined;
    const file = fileOf(piece);
    const name = file.slice(file.indexOf('/') + 1);
    if (Buffer.byteLength(name) > fileNameLimit) return 'its identifier is too long for the name of a file';
    if (this.#out.has(file)) return 'another entry has the same address';
    return undefined;
  }
}

/** @throws {Trouble} where there is no such form. */
function formatNamed(as: string | undefined): EntryFormat {
  const names = entryFormats.map(({ name }) => name);
  const format = entryFormats.find(({ name }) => name === as);
  if (format) return format;
  throw new Trouble('unusable-call', as === undefined ? 'nobody said as what' : `there is no form \`${as}\``, {
    mend: (as === undefined ? undefined : didYouMean(as, names)) ?? `Say --as ${list(names, 'or')}.`,
  });
}

/** @throws {Trouble} where entries as readers see them do not go into what holds them as they are kept. */
function refuseReading({ name }: EntryFormat, isReading: boolean): void {
  if (!isReading || name !== 'sql') return;
  throw new Trouble(
    'unusable-call',
    'tables hold entries as they are kept, in all languages and with their references',
    {
      mend: 'Leave --language, --public and --depth out, or take --as ndjson.',
    },
  );
}

/** What leads to entries that others point at, where that is requested: their places are kept, not they. */
async function finder(store: EntryStore, call: Call, { depth, publicAt }: Reading) {
  const places = new Map<string, Place>();
  if (depth > 0 || publicAt !== undefined) {
    const pass = eachEntry({
      see: ({ entry, place }) => {
        if (!places.has(keyOf(entry))) places.set(keyOf(entry), place);
      },
      finish: () => undefined,
    });
    await walk(store, [pass], call);
  }

  const recent = new Map<string, Entry>();

  return async (address: { readonly type: string; readonly id: string }): Promise<Entry | undefined> => {
    const key = keyOf(address);
    const place = places.get(key);
    if (!place) return undefined;

    const recentEntry = recent.get(key) ?? (await store.get(address, place))?.entry;
    if (!recentEntry) return undefined;

    // The one that was looked at last is the last to go.
    recent.delete(key);
    recent.set(key, recentEntry);
    const [oldest] = recent.size > mostRecent ? recent.keys() : [];
    if (oldest !== undefined) recent.delete(oldest);

    return recentEntry;
  };
}

/** So many entries are kept available that others point at. */
const mostRecent = 10_000;

/** The path of the file that a piece belongs to; empty where all is one file. */
const fileOf = ({ entry, ending }: Piece): string => {
  if (!entry) return '';
  if (entry.id === undefined) return `${fileNameOf(entry.type)}${ending}`;
  return `${fileNameOf(entry.type)}/${fileNameOf(entry.id)}${ending}`;
};
