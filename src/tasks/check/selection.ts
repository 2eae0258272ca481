import fs from 'node:fs';
import path from 'node:path';
import { type Entry, type EntryAddress, keyOf } from '../../core/entry/entry.ts';
import { isList, isObject, type Json } from '../../core/plain/json.ts';
import { didYouMean } from '../../core/plain/nearest.ts';
import { quote, sentences } from '../../core/plain/words.ts';
import type { Checked } from '../../passes/checked.ts';
import { entriesPass } from '../../passes/facts.ts';
import type { LocatedFinding } from '../../passes/locatedFinding.ts';
import type { Pass } from '../../passes/pass.ts';
import type { EntryStore } from '../../stores/store.ts';
import { hashBytes, readBytes } from '../../workspace/files.ts';
import { commitNamed, filesAt, filesChangedSince } from '../../workspace/git.ts';
import type { Workspace } from '../../workspace/open.ts';
import { Trouble } from '../../workspace/trouble.ts';
import { compileCondition, entriesMeeting } from '../conditionOver.ts';
import { formsOf, inAnyForm } from '../normalForms.ts';

/** Which entries a check is asked about. */
export interface Selection {
  /** Types, addresses of entries, files and folders. */
  readonly what?: readonly string[];
  /** A condition in CEL over `entry`. */
  readonly where?: string | undefined;
  /** A commit of git: what changed since, and what points at that. */
  readonly changedSince?: string | undefined;
  /** A file whose text is on standard input. */
  readonly file?: string | undefined;
}

/** Tells which findings are requested. */
export interface Selected {
  /** Gathers the entries that meet a condition, where there is one. */
  readonly pass: Pass<void> | undefined;
  /** Which entries are requested, and which findings, now that all were seen. */
  readonly of: (checked: Checked) => { readonly entries: number; readonly wants: (finding: LocatedFinding) => boolean };
}

/** Whether anything is requested but everything. */
export const isSelective = ({ what: subject = [], where, changedSince, file }: Selection): boolean =>
  subject.length > 0 || where !== undefined || changedSince !== undefined || file !== undefined;

/** By what entries are selected, where by several things by the narrowest. */
export function selectedBy({ where, changedSince }: Selection): 'condition' | 'changes' | 'names' {
  if (where !== undefined) return 'condition';
  if (changedSince === undefined) return 'names';
  return 'changes';
}

/** Prepares a selection. @throws {Trouble} where it names something that there is not. */
export async function select(selection: Selection, workspace: Workspace, store: EntryStore): Promise<Selected> {
  const { what: subject = [], where, changedSince, file } = selection;
  const named = await Promise.all(subject.map((name) => inAnyForm(name, (form) => namedBy(form, workspace))));
  if (file !== undefined) named.push(inFiles(file));
  const compiled = where === undefined ? undefined : compileCondition(where, [...workspace.model.types.values()]);
  const condition = compiled && (await entriesMeeting(compiled, store, workspace.model));
  const met = new Set<string>();
  const changed = changedSince === undefined ? undefined : changedEntries(changedSince, workspace, store);

  return {
    pass:
      condition &&
      entriesPass((entry) => {
        if (condition(entry)) met.add(keyOf(entry));
      }),
    of: (checked) => {
      const written = changed && entriesWritten(changed, checked);
      const near = written && checked.pointingAt(written);
      const targets = changed && written && targetsOf(changed, written, checked);

      const isAsked = (about: About): boolean => {
        const { entry, file: place, isUnreadable } = about;
        const key = entry && keyOf(entry);
        if (named.length > 0 && !named.some((named) => named(about))) return false;
        if (condition && !(key === undefined ? isUnreadable : met.has(key))) return false;
        if (!changed || changed.isAll) return true;
        if (key === undefined) return changed.files.has(place) || changed.wasNamed.has(place.replace(/^assets\//u, ''));
        return changed.entries.has(key) || changed.wholeFiles.has(place) || near?.has(key) === true;
      };

      /** Whether an entry that did not change is wrong because of what did: what points at it, or a file that it names. */
      const isConcerned = (finding: LocatedFinding): boolean => {
        if (!changed || !targets) return false;
        if (isAboutCounts(finding)) return targets.has(finding.entry ?? '');
        return isAboutFiles(finding) && namesSome(finding, changed.assets);
      };

      let entries = 0;
      for (const entry of checked.all()) if (isAsked({ ...entry, isUnreadable: false })) entries += 1;
      const wants = (finding: LocatedFinding): boolean =>
        isAsked(aboutOf(finding)) || (named.length === 0 && !condition && isConcerned(finding));

      return { entries, wants };
    },
  };
}

/** What a finding is about: an entry, or a file, in which one may stand that cannot be read. */
interface About {
  readonly entry: EntryAddress | undefined;
  readonly file: string;
  readonly isUnreadable: boolean;
}

const aboutOf = (finding: LocatedFinding): About => ({
  entry: addressOf(finding),
  file: finding.file,
  isUnreadable: finding.finding === 'unreadable-file',
});

const addressOf = ({ entry }: LocatedFinding): EntryAddress | undefined => {
  if (entry === undefined) return undefined;
  return { type: entry.slice(0, entry.indexOf('/')), id: entry.slice(entry.indexOf('/') + 1) };
};

/** Whether something is intended. What cannot be read may be of any type, and any entry. */
type NamePredicate = (about: About) => boolean;

/** What a word of the call means: a type, an entry, or a file or folder. */
function namedBy(word: string, { root, model }: Workspace): NamePredicate {
  if (model.types.has(word)) {
    const types = new Set(model.context.acceptedAs(word));
    return ({ entry, isUnreadable }) => (entry ? types.has(entry.type) : isUnreadable);
  }

  const slash = word.indexOf('/');
  if (slash > 0 && model.types.has(word.slice(0, slash)))
    return ({ entry, isUnreadable }) => (entry ? formsOf(word).includes(keyOf(entry)) : isUnreadable);

  const file = fileNamed(word, root);
  if (file !== undefined) return inFiles(file);
  throw new Trouble('nothing-named', `${quote(word)} is no type, no entry and no file here`, {
    mend: sentences(
      'Name a type (lighthouse), an entry (lighthouse/skerry-point), or a file or folder below content/.',
      didYouMean(word, model.types),
    ),
  });
}

/** A path below the workspace, of a file or folder that is named from the folder available or from the workspace. */
function fileNamed(word: string, root: string): string | undefined {
  for (const full of [path.resolve(word), path.resolve(root, word)]) {
    const below = path.relative(root, full).split(path.sep).join('/');
    if (!below.startsWith('..') && below !== '' && fs.existsSync(full)) return below;
  }
  return undefined;
}

const inFiles =
  (file: string): NamePredicate =>
  ({ file: place }) =>
    place === file || place.startsWith(`${file}/`);

/** As large as a file may be whose entries are distinguished, as they were and as they are. */
const mostMegabytes = 1024;

interface Changed {
  /** Whether the model changed, which concerns all entries. */
  readonly isAll: boolean;
  readonly files: ReadonlySet<string>;
  /** Files of which all entries count as changed: a table, a list of JSON. */
  readonly wholeFiles: ReadonlySet<string>;
  /** Entries that were written, changed or deleted. */
  readonly entries: ReadonlySet<string>;
  /** Files below `assets/` that were written, changed or deleted, from there. */
  readonly assets: ReadonlySet<string>;
  /** Texts that changed entries held before: entries that they may have pointed at, files that they may have named. */
  readonly wasNamed: ReadonlySet<string>;
}

/** Findings about an entry that hang on how many point at it. */
const isAboutCounts = ({ finding }: LocatedFinding): boolean =>
  ['not-computed', 'too-many-pointing', 'too-few-pointing'].includes(finding);

/** Findings that hang on what a file below `assets/` is. */
const isAboutFiles = ({ finding }: LocatedFinding): boolean =>
  ['missing-asset', 'media-not-allowed', 'asset-too-large', 'wrong-dimensions', 'mislabelled-asset'].includes(finding);

/** Whether a finding is about one of some files below `assets/`: by what it says itself, else by the value. */
function namesSome({ value, data }: LocatedFinding, assets: ReadonlySet<string>): boolean {
  const { file } = data as { readonly file?: unknown };
  if (typeof file === 'string') return assets.has(file);
  const texts = textsIn(value);
  return [...assets].some((asset) => texts.some((text) => namesFile(text, asset)));
}

/** Whether a file's whole name is in a text, not only the end of a longer one. */
const namesFile = (text: string, file: string): boolean =>
  text.split(file).some((before, index, parts) => index < parts.length - 1 && !/[\p{L}\p{N}_.-]$/u.test(before));

/** The entries that were written, changed or deleted, those of whole files among them. */
function entriesWritten({ entries, wholeFiles }: Changed, checked: Checked): ReadonlySet<string> {
  const written = new Set(entries);
  if (wholeFiles.size > 0)
    for (const { entry, file } of checked.all()) if (wholeFiles.has(file)) written.add(keyOf(entry));
  return written;
}

/** The entries that changed ones point at, or may have pointed at before. */
function targetsOf({ wasNamed }: Changed, written: ReadonlySet<string>, checked: Checked): ReadonlySet<string> {
  const targets = new Set(checked.pointedAtBy(written));
  if (wasNamed.size > 0)
    for (const { entry } of checked.all())
      if (wasNamed.has(entry.id) || wasNamed.has(keyOf(entry))) targets.add(keyOf(entry));
  return targets;
}

/** What changed since a commit, as git tells it, files that it does not know yet among them. @throws {Trouble} */
function changedEntries(name: string, { root }: Workspace, store: EntryStore): Changed {
  const commit = commitNamed(root, name);
  if (commit === undefined)
    throw new Trouble('no-commit', `git knows no commit ${quote(name)}`, { mend: 'Name one: HEAD, HEAD~3, main.' });

  const files = new Set(filesChangedSince(root, commit));
  const isAll = [...files].some((file) => file.startsWith('model/') || file === 'lumbrik.yaml');
  const content = isAll ? [] : [...files].filter((file) => file.startsWith('content/'));
  const before = filesAt(root, commit, content);
  const entries = new Set<string>();
  const wholeFiles = new Set<string>();
  const wasNamed = new Set<string>();
  for (const file of content) {
    const bytes = readBytes(path.join(root, file), { fileMegabytes: mostMegabytes });
    const [oldVersions, newVersions] = [before.get(file), 'problem' in bytes ? undefined : bytes.value].map(
      (bytes) => bytes && versionsIn(store, file, bytes),
    );
    if (!oldVersions && !newVersions) wholeFiles.add(file);
    for (const key of [...(oldVersions?.keys() ?? []), ...(newVersions?.keys() ?? [])])
      if (oldVersions?.get(key)?.version !== newVersions?.get(key)?.version) {
        entries.add(key);
        for (const text of textsIn(oldVersions?.get(key)?.entry.values)) wasNamed.add(text);
      }
  }

  const below = [...files].filter((file) => file.startsWith('assets/'));
  const assets = new Set(below.map((file) => file.slice('assets/'.length)));

  return { isAll, files, wholeFiles, entries, assets, wasNamed };
}

/** An entry as a file has it, and a hash of that. */
interface Version {
  readonly entry: Entry;
  readonly version: string;
}

/** Each entry of a file, by its address; `undefined` where its store does not tell them apart. */
function versionsIn(store: EntryStore, file: string, bytes: Buffer): ReadonlyMap<string, Version> | undefined {
  const alone = store.wholeFile(file, bytes);
  if (alone) {
    const entry = 'value' in alone ? alone.value.entry : undefined;
    return new Map(entry ? [[keyOf(entry), { entry, version: hashBytes(bytes) }]] : []);
  }

  const lines = store.linesOf(file, bytes)?.lines;

  return (
    lines &&
    new Map(
      lines.flatMap(({ entry, bytes: line }) =>
        entry ? [[keyOf(entry), { entry, version: hashBytes(withoutFeed(line)) }]] : [],
      ),
    )
  );
}

/** Every text in a value, however deep. */
function textsIn(value: Json | undefined): readonly string[] {
  if (typeof value === 'string') return [value];
  if (isList(value)) return value.flatMap(textsIn);
  if (!isObject(value)) return [];
  return Object.values(value).flatMap(textsIn);
}

const withoutFeed = (line: Buffer): Buffer => {
  if (line.at(-1) !== 0x0a) return line;
  return line.subarray(0, -1);
};
