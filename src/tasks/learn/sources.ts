import path from 'node:path';
import { idRule, isId, isName, nameFrom } from '../../core/definition/address.ts';
import { contentFolder, filesNamed, type StoreOptions } from '../../core/definition/workspace.ts';
import { listSeparator } from '../../core/plain/cells.ts';
import { compact, type JsonObject } from '../../core/plain/json.ts';
import type { Limits } from '../../core/plain/limits.ts';
import { didYouMean } from '../../core/plain/nearest.ts';
import { listSome, quote } from '../../core/plain/words.ts';
import type { Encoding } from '../../stores/table/encoding.ts';
import { contentRevisionFile } from '../../workspace/contentRevision.ts';
import { isTermsFile } from '../../workspace/contentTerms.ts';
import { listFiles } from '../../workspace/files.ts';
import { Trouble } from '../../workspace/trouble.ts';
import { tellsApart, usualIds } from './collections.ts';
import { type EntrySource, keptIn, type LeftOut } from './keptIn.ts';

/** Where entries were found that a model can be learnt from. */
export interface Sources {
  readonly content: readonly StoreOptions[];
  /** The key that says of what type an entry is; `false` where `type` holds something else, and is a field. */
  readonly typeKey: string | false;
  /** What that key holds, where entries of all of these have the same keys, and so it was treated as a field. */
  readonly alikeTypes: readonly string[];
  /** Whether nothing else is in the content folder than files that keep many entries each. */
  readonly areAlone: boolean;
  /** Files of the content folder in which no entries were found, or keys in one that are in no entry, with the reason. */
  readonly left: readonly LeftOutFile[];
}

interface LeftOutFile extends LeftOut {
  readonly file: string;
}

/** What was stated of the keys under which entries say what they are. */
export interface StatedKeys {
  /** The key that tells entries apart. */
  readonly id?: string | undefined;
  /** The key that says of what type an entry is; `false` where none does. */
  readonly type?: string | false | undefined;
  /** What tables are written in that are not in UTF-8. */
  readonly encoding?: Encoding | undefined;
  /** So large a share of values may be otherwise. */
  readonly tolerated: number;
}

/**
 * Finds out how entries are kept in the content folder of what will be a workspace.
 * @param named the files and folders that are intended, below the root; all of them where none is named.
 */
export function sourcesIn(
  root: string,
  named: readonly string[],
  { limits, ...saidKeys }: StatedKeys & { readonly limits: Limits },
): Sources {
  const stores: StoreOptions[] = [];
  const leftOut: LeftOutFile[] = [];
  const types = new TypesSeen(saidKeys.tolerated);
  const keys = new Set<string>();
  const folders = new Set<string>();
  const allFiles = listFiles(root, contentFolder, ['']).map((file) => `${contentFolder}/${file}`);
  const files = allFiles
    .filter((file) => file !== contentRevisionFile && !isTermsFile(file))
    .filter(
      (file) =>
        named.length === 0 ||
        named.some((name) => name === contentFolder || file === name || file.startsWith(`${name}/`)),
    );

  for (const file of files) {
    const outcome = keptIn(root, file, { encoding: saidKeys.encoding, limits });
    if ('problem' in outcome) leftOut.push({ file, because: outcome.problem });
    else if (outcome.value === 'entry') {
      const [, folder = ''] = file.split('/');
      folders.add(folder);
    } else
      for (const source of outcome.value) {
        types.see(source.sample);
        for (const entry of source.sample) for (const key of Object.keys(entry)) keys.add(key);
        stores.push(storeOf(file, source, saidKeys.id));
        if (source.beside) leftOut.push({ file, ...source.beside });
      }
  }

  refuseUnknown(keys, saidKeys);
  const alikeTypes = saidKeys.type === undefined && !types.areValues && types.areAlike ? types.names : [];
  const typeKey = types.areValues || alikeTypes.length > 0 ? false : 'type';

  return {
    content: [...foldersOf([...folders]), ...stores],
    typeKey: saidKeys.type ?? typeKey,
    alikeTypes,
    areAlone: allFiles.length === new Set(stores.filter((store) => !('csv' in store)).flatMap(filesNamed)).size,
    left: leftOut,
  };
}

/** A key that no entry has is a slip of the pen. @throws {Trouble} */
function refuseUnknown(keys: ReadonlySet<string>, saidKeys: StatedKeys): void {
  if (keys.size === 0) return;
  for (const name of ['id', 'type'] as const) {
    const key = saidKeys[name];
    if (key === undefined || key === false || keys.has(key)) continue;
    throw new Trouble('unusable-call', `--${name} ${key}: no entry has a key that is called so`, {
      mend: didYouMean(key, [...keys]) ?? `They have ${listSome([...keys], 8)}.`,
    });
  }
}

/** Folders of entries: those together that are called as types can be, each other one with the type that its name makes. */
function foldersOf(folders: readonly string[]): readonly StoreOptions[] {
  const otherFolders = folders.filter((folder) => !isName(folder));
  return [
    ...(otherFolders.length < folders.length ? [{ folder: contentFolder }] : []),
    ...otherFolders.flatMap((folder) => {
      const type = nameFrom(folder);
      if (!isName(type)) return [];
      return [{ folder: `${contentFolder}/${folder}`, type }];
    }),
  ];
}

/** More types than these in one place are values of a field. */
const mostTypes = 40;
/** So many entries of a type tell which keys it has. */
const telling = 10;
/** A key that so many of its entries have is one of a type. */
const usual = 0.9;

/** The value under `type`, and the keys that are beside each. */
class TypesSeen {
  readonly #types = new Map<string, { entries: number; readonly keys: Map<string, number> }>();
  /** Whether entries of several are in one file: a file for each is what types are kept in. */
  #areMixed = false;
  readonly #tolerated: number;
  /** How many entries have a value there, and how many of these one that names no type. */
  #filled = 0;
  #others = 0;

  constructor(tolerated: number) {
    this.#tolerated = tolerated;
  }

  /** @param entries some of one file. */
  see(entries: readonly JsonObject[]): void {
    for (const entry of entries) this.#see(entry);
    this.#areMixed ||= new Set(entries.map(({ type }) => type)).size > 1;
  }

  #see({ type, ...rest }: JsonObject): void {
    // A number, a list or a group names no type: it is a value like any other.
    if (type === undefined || type === null) return;

    this.#filled += 1;
    if (typeof type !== 'string') {
      this.#others += 1;
      return;
    }

    const counted = this.#types.get(type) ?? { entries: 0, keys: new Map<string, number>() };
    this.#types.set(type, counted);
    counted.entries += 1;
    for (const [key, value] of Object.entries(rest))
      if (value !== '' && value !== null) counted.keys.set(key, (counted.keys.get(key) ?? 0) + 1);
  }

  get names(): readonly string[] {
    return [...this.#types.keys()];
  }

  /** Whether no types are called so. */
  get areValues(): boolean {
    const isOften = this.#others > this.#tolerated * this.#filled;
    return isOften || this.#types.size > mostTypes || this.names.some((type) => !isName(type));
  }

  /** Whether no key belongs to some of several types: what tells these apart is a field like any other. */
  get areAlike(): boolean {
    const tellingTypes = [...this.#types.values()].filter(({ entries }) => entries >= telling);
    const keys = new Set(tellingTypes.flatMap((type) => [...type.keys.keys()]));

    const marks = (key: string): boolean => {
      const shares = tellingTypes.map((type) => (type.keys.get(key) ?? 0) / type.entries);
      return shares.includes(0) && shares.some((share) => share >= usual);
    };

    return this.#areMixed && tellingTypes.length > 1 && ![...keys].some(marks);
  }
}

/** What lists are called in exports that say nothing of their content. */
const wrappers = new Set(['data', 'content', 'entries', 'items', 'objects', 'records', 'results', 'rows', 'values']);

function storeOf(
  file: string,
  { way, at: address = [], isMap, delimiter, encoding, sample }: EntrySource,
  wantedKey: string | undefined,
): StoreOptions {
  const base = path.posix.basename(file).replace(/\..*$/u, '');
  const type = nameFrom(address.findLast((key) => !wrappers.has(key.toLowerCase())) ?? base);
  const where = address.length > 0 ? `${file} at ${address.join('.')}` : file;
  const key = isMap || sample.length === 0 ? 'id' : idKey({ file, where }, sample, wantedKey);
  const settings = compact({ type: isName(type) ? type : undefined, keys: key === 'id' ? undefined : { id: key } });
  if (way === 'lines') return { lines: [file], ...settings };
  if (way === 'json')
    return compact({ json: [file], at: address.length > 0 ? address.join('.') : undefined, ...settings });

  // Where that stands between cells as well, a list has to be stated to have it.
  const isListed =
    delimiter === ';' && sample.some((row) => Object.values(row).some((cell) => String(cell).includes(listSeparator)));

  return compact({ csv: [file], encoding, separator: isListed ? listSeparator : undefined, ...settings });
}

/** What such a key is called in more words: `Artist ID`, `customer_no`. */
const endsAsId = (key: string): boolean => /[\s_-](?:id|key|code|nr|no)\.?$/iu.test(key) || /[a-z]I[Dd]$/u.test(key);

/** Whether a key has another text in each of some entries, be they identifiers or not. */
function differs(key: string, entries: readonly JsonObject[]): boolean {
  const texts = entries.map((entry) => entry[key]).filter((value) => typeof value === 'string' && value !== '');
  return texts.length === entries.length && new Set(texts).size === texts.length;
}

/** The key whose values tell the entries of a file apart. @throws {Trouble} where there is none. */
function idKey(
  { file, where }: { readonly file: string; readonly where: string },
  sample: readonly JsonObject[],
  wantedKey: string | undefined,
): string {
  const keys = [...new Set(sample.flatMap((object) => Object.keys(object)))];
  if (wantedKey !== undefined && keys.includes(wantedKey)) return wantedKey;

  const named = usualIds.filter((name) => keys.includes(name));
  // Keys that are numbers come first in JavaScript, wherever they stand.
  const words = keys.filter((key) => !/^\d+$/u.test(key));
  const idKey = [...named, ...words.filter(endsAsId), ...words, ...keys].find((candidate) =>
    tellsApart(candidate, sample),
  );
  if (idKey !== undefined) return idKey;

  const unfit = [...named, ...words].find((candidate) => differs(candidate, sample));
  if (unfit !== undefined) {
    const example = sample.map((object) => String(object[unfit])).find((value) => !isId(value)) ?? '';
    throw new Trouble(
      'no-identifier',
      `nothing can tell the entries of ${where} apart: \`${unfit}\` has another value in each, but ${quote(example, 30)} can be no identifier`,
      { mend: `Give each an \`id\`: ${idRule}.`, where: { file } },
    );
  }

  const [key = words[0] ?? 'key'] = named;
  const values = sample.map((object) => object[key]);
  const twice = values.find((value, index) => value !== undefined && value !== '' && values.indexOf(value) < index);
  const because = twice === undefined ? '' : `; \`${key}\` is ${quote(twice, 30)} in several`;
  throw new Trouble(
    'no-identifier',
    `nothing tells the entries of ${where} apart: no key has another value in each${because}`,
    {
      mend: `Say which it is meant to be, and a check finds those that have the same: --id ${/\s/u.test(key) ? JSON.stringify(key) : key}`,
      where: { file },
    },
  );
}
