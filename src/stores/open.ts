import path from 'node:path';
import { usualFactKeys } from '../core/definition/builtIn.ts';
import { contentFolder, filesNamed, type StoreOptions } from '../core/definition/workspace.ts';
import { type CellKinds, cellKindsOf } from '../core/model/cells.ts';
import { link, type Model } from '../core/model/link.ts';
import { usualLimits } from '../core/plain/limits.ts';
import { hashModel } from '../core/revision/canonical.ts';
import { contentRevisionFile } from '../workspace/contentRevision.ts';
import { isTermsFile } from '../workspace/contentTerms.ts';
import { listFiles, statOf } from '../workspace/files.ts';
import type { Records } from '../workspace/records.ts';
import { CollectionStore } from './collection/collection.ts';
import { endings } from './folder/entryFile.ts';
import { FolderStore } from './folder/folder.ts';
import { KeyNames } from './keys.ts';
import { LinesStore } from './lines/lines.ts';
import { several } from './several.ts';
import type { EntryStore, StoreHome } from './store.ts';
import { TableStore } from './table/table.ts';

/** The model that entries obey, and the one of the working files: they tell what the cells of tables stand for. */
interface Models {
  readonly model: Model;
  readonly records: Records;
}

/** What a store is called inside the program: by its place among those of its workspace, from nought. */
export const storeName = (index: number): string => `${index + 1}`;

/** All stores of a workspace as one. */
export function openStore(workspace: StoreHome | (StoreHome & Models)): EntryStore {
  const { root, content, factKeys = usualFactKeys, limits = usualLimits } = workspace;
  const home = { root, content, factKeys, limits, cells: workspace.cells ?? cellsIn(workspace) };
  const stores = content.map((options, index) => {
    const name = storeName(index);
    return [name, openOne(home, name, options)] as const;
  });
  const [only] = stores;
  const store = only && stores.length === 1 ? only[1] : several(new Map(stores), sharedIn(content));
  return Object.assign(store, { home });
}

/** The files that several stores keep entries in, each in a list or map to itself. */
function sharedIn(content: readonly StoreOptions[]): ReadonlySet<string> {
  const named = content.flatMap(filesNamed);
  return new Set(named.filter((file, index) => named.indexOf(file) < index));
}

/** A column in both models has its meaning from the model that the entries obey. */
function cellsIn(workspace: StoreHome & Partial<Models>): CellKinds | undefined {
  const { content, model, records } = workspace;
  if (!model || !content.some((store) => 'csv' in store)) return undefined;
  const obeyed = records?.revisions.find((revision) => hashModel(revision.model) === records.contentRevision);
  const [current, then] = [cellKindsOf(model), obeyed ? cellKindsOf(link(obeyed.model)) : {}];
  const types = new Set([...Object.keys(current), ...Object.keys(then)]);
  return Object.fromEntries([...types].map((type) => [type, { ...current[type], ...then[type] }]));
}

function openOne(
  { root, content, cells = {}, factKeys, limits }: Required<StoreHome>,
  name: string,
  options: StoreOptions,
): EntryStore {
  const keys = new KeyNames(options, factKeys, limits.expressionSteps);
  if ('folder' in options) {
    const { folder } = options;
    return new FolderStore(root, {
      name,
      folder,
      type: options.type,
      keys,
      limits,
      files: () => filesOfFolder(root, folder, content),
    });
  }

  const home = { name, type: options.type, keys, limits };
  if ('lines' in options) return new LinesStore(root, { ...home, files: options.lines });
  if ('csv' in options) {
    const { csv: files, delimiter, encoding, separator } = options;
    return new TableStore(root, { ...home, files, delimiter, encoding, separator, kinds: cells });
  }
  return new CollectionStore(root, { ...home, files: options.json, way: options.at?.split('.') ?? [] });
}

/** The files of a folder that hold entries, in order: but for those that another store reads. */
function filesOfFolder(root: string, folder: string, stores: readonly StoreOptions[]): readonly string[] {
  const deeper = stores.flatMap((other) =>
    'folder' in other && other.folder.startsWith(`${folder}/`) ? [`${other.folder}/`] : [],
  );
  const otherFiles = new Set(stores.flatMap(filesNamed));
  return listFiles(root, folder, endings)
    .map((file) => `${folder}/${file}`)
    .filter((file) => !isOurOwn(file) && !otherFiles.has(file) && !deeper.some((below) => file.startsWith(below)));
}

/** Files of the content folder that say something of all entries. */
const isOurOwn = (file: string): boolean => file === contentRevisionFile || isTermsFile(file);

/** The files that hold entries, in the order of their stores. */
export const contentFiles = ({ root, content }: StoreHome): readonly string[] =>
  content.flatMap((store) =>
    'folder' in store
      ? filesOfFolder(root, store.folder, content)
      : filesNamed(store).filter((file) => statOf(path.join(root, file))),
  );

/** The files in the content folder that no store reads. */
export function unreadFiles(home: StoreHome): readonly string[] {
  const read = new Set(contentFiles(home));
  return listFiles(home.root, contentFolder, [''])
    .map((file) => `${contentFolder}/${file}`)
    .filter((file) => !isOurOwn(file) && !read.has(file));
}
