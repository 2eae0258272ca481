import fs from 'node:fs';
import path from 'node:path';
import type { z } from 'zod';
import { isName } from '../core/definition/address.ts';
import { type BuiltInKeys, type FactKeys, factKeysOf } from '../core/definition/builtIn.ts';
import { isDeviceName } from '../core/definition/deviceNames.ts';
import { contentFolder, filesNamed, type StoreOptions } from '../core/definition/workspace.ts';
import { severitiesOf } from '../core/entry/severities.ts';
import { withInverses } from '../core/learn/inverseNames.ts';
import { factsOtherwise, learnModel } from '../core/learn/learnModel.ts';
import type { LearntModel } from '../core/learn/learntModel.ts';
import { type LearntWorkspace, modelFiles, termsFile } from '../core/learn/modelFiles.ts';
import { isProven } from '../core/learn/proven.ts';
import { fieldsBelow, type LearntField } from '../core/learn/value.ts';
import { compact } from '../core/plain/json.ts';
import { limitsOf } from '../core/plain/limits.ts';
import { humanize } from '../core/plain/words.ts';
import { type AllSeen, learnPass } from '../passes/learn.ts';
import { walk } from '../passes/walk.ts';
import { openStore, storeName } from '../stores/open.ts';
import type { StoreHome } from '../stores/store.ts';
import { termsEnding, termsFileOf, termsFilesIn } from '../workspace/contentTerms.ts';
import { copyWhole, isSameTree } from '../workspace/copyTree.ts';
import { listFiles, statOf } from '../workspace/files.ts';
import { workspaceFile } from '../workspace/readFiles.ts';
import { refuse, Trouble } from '../workspace/trouble.ts';
import type { Call } from './call.ts';
import { check } from './check/check.ts';
import { type Answers, answered, openQuestions } from './learn/answers.ts';
import { refuseUsed } from './learn/refuseUsed.ts';
import type { FieldLearnt, LearnResult } from './learn/result.ts';
import { type StatedKeys, sourcesIn } from './learn/sources.ts';
import { writeWorkspace } from './learn/writeWorkspace.ts';
import { resultVersion } from './result.ts';

/** The options of learning from entries. */
export interface LearnCall extends Answers, StatedKeys {
  /** Files and folders; the content folder where none is named. */
  readonly sources: readonly string[];
  /** The folder that becomes a workspace. */
  readonly out: string;
  /** Whether sources that lie elsewhere are copied into its content folder. */
  readonly isCopying: boolean;
  /** How large a file may be, in megabytes, where that is more than usual. */
  readonly fileMegabytes?: number | undefined;
}

/** So many files are named that hold no entries. */
const mostLeft = 5;

/** Makes a workspace around entries that exist: with the model that they obey, but for the odd ones out. */
export async function learn(call: Call, request: LearnCall): Promise<LearnResult> {
  const root = path.resolve(request.out);
  await refuseUsed(root, request.out);
  const copies: string[] = [];
  try {
    return await learnt(call, request, { root, wanted: placed(root, request, copies) });
  } catch (error) {
    // Useless copies would be in the way of the next try.
    if (!fs.existsSync(path.join(root, workspaceFile)))
      for (const copy of copies) fs.rmSync(copy, { recursive: true, force: true });
    throw error;
  }
}

/** Learns from sources that lie where they are to be read. */
async function learnt(
  call: Call,
  request: LearnCall,
  { root, wanted: expected }: { readonly root: string; readonly wanted: readonly string[] },
): Promise<LearnResult> {
  const limits = limitsOf({ fileMegabytes: request.fileMegabytes });
  const sources = sourcesIn(root, expected, { ...request, limits });
  const { content, left: remaining } = sources;
  if (content.length === 0)
    throw new Trouble(
      'no-entries',
      `there are no entries to learn from below ${path.join(request.out, contentFolder)}`,
      {
        mend: 'Put them there, as <type>/<id>.md, .yaml or .json, in files of lines (.ndjson), in tables (.csv) or in lists (.json); or name them: lumbrik learn ../export --copy',
        also: remaining.slice(0, mostLeft).map(({ file, because }) => `${file}: ${because}`),
      },
    );

  const {
    seen: seenEntries,
    keys,
    inStores,
    unreadable,
    factKeys,
  } = await seenIn(call, { root, content, limits }, { type: sources.typeKey, tolerated: request.tolerated });
  const assets = new Set(listFiles(root, 'assets', ['']));
  const learnt = await answered(request, keys, (answers) =>
    learnModel(seenEntries, request.tolerated, { factKeys, isAsset: (text) => assets.has(text), answers, keys }),
  );
  const model = withGivenTaxonomies({ ...learnt, types: withInverses(learnt.types) }, root);
  const stores = content.map((store, index) => withFields(store, inStores.get(storeName(index))));
  const files = filesOf(root, model, { content: stores, fileMegabytes: request.fileMegabytes });
  await writeWorkspace(root, files);
  const isKnown = sources.areAlone && unreadable === 0 && assets.size === 0 && isProven(learnt, seenEntries, factKeys);

  return {
    lumbrik: resultVersion,
    command: 'learn',
    ...modelTold(model),
    keys: [...keys].map(([field, key]) => ({ field, key })),
    identifiers: content.flatMap(identifierIn),
    workspace: request.out,
    files: [...files.keys()],
    left: remaining.map(({ keys, ...rest }) => (keys ? { ...rest, keys: [...keys] } : rest)),
    alikeTypes: [...sources.alikeTypes],
    unreadable,
    questions: [...openQuestions(learnt)],
    ...(await oddOnes(root, isKnown)),
  };
}

/** Statistics of all entries, and under which keys these have what every entry has. */
interface SeenUnder extends AllSeen {
  readonly factKeys: FactKeys;
}

/**
 * Statistics of all entries. Where `type` or `id` turns out to hold what names no type and no entry, it is a field like
 * any other, and they are looked at anew.
 */
async function seenIn(
  { watch }: Call,
  place: StoreHome,
  { type, tolerated }: { readonly type: string | false; readonly tolerated: number },
): Promise<SeenUnder> {
  const look = async (stated: BuiltInKeys): Promise<SeenUnder> => {
    const home = { ...place, factKeys: factKeysOf(stated) };
    const [seen] = await walk(openStore(home), [learnPass(home)], { watch });
    return { ...seen, factKeys: home.factKeys };
  };

  const allSeen = await look({ type });
  const areFolders = place.content.every((store) => 'folder' in store);
  const fields = factsOtherwise(allSeen.seen, tolerated, allSeen.factKeys).filter((fact) =>
    fact === 'type' ? type === 'type' : areFolders,
  );
  if (fields.length === 0) return allSeen;

  return look({ type, ...Object.fromEntries(fields.map((fact) => [fact, false])) });
}

/** The key of a store that tells its entries apart, with the place where they are; of files that are entries their names do. */
function identifierIn(store: StoreOptions): LearnResult['identifiers'] {
  if ('folder' in store) return [];
  const key = store.keys?.id ?? 'id';
  return filesNamed(store).map((place) => ({ place, key }));
}

/** A store that says which keys hold fields that cannot be called so. */
const withFields = (store: StoreOptions, fields: ReadonlyMap<string, string> = new Map()): StoreOptions => {
  if (fields.size === 0) return store;
  return { ...store, fields: Object.fromEntries(fields) };
};

type OddOnes = Pick<LearnResult, 'errors' | 'warnings' | 'summary' | 'unreadableAt'>;

/** So many files are named that cannot be read. */
const mostUnreadable = 5;

/** Problems of entries by the learnt model. @param isKnown whether it is proven that nothing is. */
async function oddOnes(root: string, isKnown: boolean): Promise<OddOnes> {
  if (isKnown) return { errors: 0, warnings: 0, summary: [], unreadableAt: [] };

  const examples = new Map<string, string>();
  const unreadable = new Map<string, string>();
  const { summary } = await check(
    { workspace: root },
    {
      tell: (findings) => {
        for (const { finding, entry, file, line, pointer } of findings) {
          if (!examples.has(finding)) examples.set(finding, `${entry ?? file}${pointer === '' ? '' : `#${pointer}`}`);
          if (finding === 'unreadable-file' && unreadable.size < mostUnreadable && !unreadable.has(file))
            unreadable.set(file, `${file}:${line}`);
        }
      },
    },
  );

  return {
    ...severitiesOf(summary),
    unreadableAt: [...unreadable.values()],
    summary: summary.map(({ finding, count, about }) => ({
      finding,
      count,
      about,
      example: examples.get(finding) ?? '',
    })),
  };
}

/** A learnt model as it is reported. */
const modelTold = ({ languages, languagesBecause, types, taxonomies, kits, unfit }: LearntModel) => ({
  languages: [...languages],
  languagesBecause,
  types: types.map((type) =>
    compact({
      type: type.name,
      entries: type.entries,
      titled: type.titled,
      fields: fieldsTold(type.fields),
    }),
  ),
  taxonomies: taxonomies.map(({ name, terms, fields }) => ({ name, terms: terms.length, fields: [...fields] })),
  kits: kits.map((kit) => ({ kit: kit.name, fields: kit.fields.map(({ name }) => name), types: [...kit.types] })),
  unfit: [...unfit],
});

/** Fields with those inside them, by their paths. */
const fieldsTold = (fields: readonly LearntField[]): z.output<typeof FieldLearnt>[] =>
  fieldsBelow(fields).map(({ path: field, field: { definition, evidence, against } }) => ({
    field,
    says: { ...definition },
    evidence,
    against,
  }));

/** The sources as they lie below the root; copied there where that is requested, and the copies noted. @throws {Trouble} */
function placed(root: string, { sources, isCopying, out: outFile }: LearnCall, copies: string[]): readonly string[] {
  return sources.map((source) => {
    const from = path.resolve(source);
    if (!statOf(from))
      throw new Trouble('not-found', `there is no file and no folder ${source}`, {
        mend: 'Look at how it is written.',
      });

    const below = path.relative(root, from).split(path.sep).join('/');
    if (below === contentFolder || below.startsWith(`${contentFolder}/`)) return below;

    const to = `${contentFolder}/${path.basename(from)}`;
    if (!isCopying)
      throw new Trouble(
        'elsewhere',
        `${source} does not lie in ${path.join(outFile, contentFolder)}, where the entries of a workspace are`,
        { mend: 'Move it there, so that it is read where it is; or let it be copied: --copy', where: { file: source } },
      );

    const full = path.join(root, to);
    // A call that was stopped behind its copying left the whole copy.
    if (statOf(full) && isSameTree(from, full)) return to;
    if (statOf(full))
      throw refuse('other-file', `there is ${to} already, and it is not what ${source} holds`, {
        mend: 'Take one of them away.',
      });

    copyWhole(from, full);
    copies.push(full);

    return to;
  });
}

/** The files of a workspace with the learnt model. Terms that are there already stay as they are. */
function filesOf(
  root: string,
  model: LearntModel,
  settings: Omit<LearntWorkspace, 'name'>,
): ReadonlyMap<string, string> {
  const name = humanize(path.basename(root).replace(/[^\p{L}\p{N}]+/gu, '-')) || 'A workspace';
  const terms = model.taxonomies
    .map((taxonomy) => [termsFileOf(taxonomy.name), termsFile(taxonomy)] as const)
    .filter(([file]) => !statOf(path.join(root, file)));
  return new Map([...terms, ...modelFiles(model, { ...settings, name })]);
}

/** A model with the taxonomies whose terms lie among the entries, `content/topic.terms.yaml`. */
function withGivenTaxonomies(model: LearntModel, root: string): LearntModel {
  const names = [...model.types, ...model.kits, ...model.taxonomies].map(({ name }) => name.toLowerCase());
  const given = termsFilesIn(root)
    .map((file) => file.slice(contentFolder.length + 1, -termsEnding.length))
    .filter((name) => isName(name) && !isDeviceName(name) && !names.includes(name.toLowerCase()));
  return { ...model, taxonomies: [...model.taxonomies, ...given.map((name) => ({ name, terms: [], fields: [] }))] };
}
