import fs from 'node:fs';
import path from 'node:path';
import { z } from 'zod';
import { setBuiltInKeys } from '../core/definition/builtIn.ts';
import { contentFolder, type StoreOptions } from '../core/definition/workspace.ts';
import { withInverses } from '../core/learn/inverseNames.ts';
import { type LearntModel, learnModel } from '../core/learn/learnModel.ts';
import { type LearntWorkspace, modelFiles, termsFile } from '../core/learn/modelFiles.ts';
import { isProven } from '../core/learn/proven.ts';
import { fieldsBelow, type LearntField } from '../core/learn/value.ts';
import { compact } from '../core/plain/json.ts';
import { JsonValue } from '../core/plain/jsonValue.ts';
import { setLimits } from '../core/plain/limits.ts';
import { humanize, list } from '../core/plain/words.ts';
import { learnPass, tablesIn } from '../passes/learn.ts';
import { walk } from '../passes/walk.ts';
import { openStore, storeName } from '../stores/open.ts';
import { termsFileOf } from '../workspace/contentTerms.ts';
import { listFiles, statOf, writeWhole } from '../workspace/files.ts';
import { makeFolder } from '../workspace/makeFolder.ts';
import { openWorkspace, workspaceFile } from '../workspace/open.ts';
import { refuse, systemTrouble, Trouble } from '../workspace/trouble.ts';
import type { Call } from './call.ts';
import { check } from './check/check.ts';
import { type Answers, answered, Open, openQuestions } from './learn/answers.ts';
import { refuseUsed } from './learn/refuseUsed.ts';
import { type SaidKeys, sourcesIn } from './learn/sources.ts';
import { head, resultVersion } from './result.ts';

const FieldLearnt = z.strictObject({
  field: z.string(),
  says: z.record(z.string(), JsonValue),
  /** What speaks for it. */
  evidence: z.string(),
  /** How many values, or entries without one, speak against it. */
  against: z.int(),
});

export const LearnResult = z.strictObject({
  ...head('learn'),
  workspace: z.string(),
  /** The files that were written. */
  files: z.array(z.string()),
  languages: z.array(z.string()),
  types: z.array(
    z.strictObject({
      type: z.string(),
      entries: z.int(),
      titled: z.string().optional(),
      fields: z.array(FieldLearnt),
    }),
  ),
  taxonomies: z.array(z.strictObject({ name: z.string(), terms: z.int(), fields: z.array(z.string()) })),
  /** Groups of fields that recur in types, and are kept once. */
  kits: z.array(z.strictObject({ kit: z.string(), fields: z.array(z.string()), types: z.array(z.string()) })),
  /** Keys that no field can be called, with the names of the fields that they hold: lumbrik.yaml says so. */
  keys: z.array(z.strictObject({ field: z.string(), key: z.string() })),
  /** Names in the data that no type can be called: their entries are in none. */
  unfit: z.array(z.string()),
  /** Files in which no entries were found, and things in others that cannot be read as one. */
  left: z.array(z.strictObject({ file: z.string(), keys: z.array(z.string()).optional(), because: z.string() })),
  /** What the key `type` holds, where entries of all of these have the same keys: it was taken for a field. */
  alikeTypes: z.array(z.string()),
  unreadable: z.int(),
  /** What is not sure, and nobody said. */
  questions: z.array(Open),
  /** What a check by the learnt model finds: the odd ones out. */
  errors: z.int(),
  warnings: z.int(),
  summary: z.array(z.strictObject({ finding: z.string(), count: z.int(), about: z.string(), example: z.string() })),
});
export type LearnResult = z.output<typeof LearnResult>;

export interface LearnCall extends Answers, SaidKeys {
  /** Files and folders; the content folder where none is named. */
  readonly sources: readonly string[];
  /** The folder that becomes a workspace. */
  readonly out: string;
  /** Whether sources that lie elsewhere are copied into its content folder. */
  readonly isCopying: boolean;
  /** So large a share of values may be otherwise. */
  readonly tolerated: number;
  /** How large a file may be, in megabytes, where that is more than usual. */
  readonly fileMegabytes?: number | undefined;
}

/** So many files are named that hold no entries. */
const mostLeft = 5;

/** Makes a workspace around entries that exist: with the model that they obey, but for the odd ones out. */
export async function learn(call: Call, asked: LearnCall): Promise<LearnResult> {
  const root = path.resolve(asked.out);
  refuseUsed(root, asked.out);
  const copies: string[] = [];
  try {
    return await learnt(call, asked, { root, wanted: placed(root, asked, copies) });
  } catch (error) {
    // What was copied for nothing would stand in the way of the next try.
    if (!fs.existsSync(path.join(root, workspaceFile)))
      for (const copy of copies) fs.rmSync(copy, { recursive: true, force: true });
    throw error;
  }
}

/** Learns from sources that lie where they are to be read. */
async function learnt(
  call: Call,
  asked: LearnCall,
  { root, wanted }: { readonly root: string; readonly wanted: readonly string[] },
): Promise<LearnResult> {
  setLimits({ fileMegabytes: asked.fileMegabytes });
  const sources = sourcesIn(root, wanted, asked);
  const { content, left } = sources;
  if (content.length === 0)
    throw new Trouble('no-entries', `there are no entries to learn from below ${path.join(asked.out, contentFolder)}`, {
      mend: 'Put them there, as <type>/<id>.md, .yaml or .json, in files of lines (.ndjson), in tables (.csv) or in lists (.json); or name them: lumbrik learn ../export --copy',
      also: left.slice(0, mostLeft).map(({ file, because }) => `${file}: ${because}`),
    });
  setBuiltInKeys({ type: sources.typeKey });
  const [{ seen, keys, inStores, unreadable }] = await walk(
    openStore({ root, content }),
    [learnPass(tablesIn(content))],
    {
      watch: call.watch,
    },
  );
  const assets = new Set(listFiles(root, 'assets', ['']));
  const learnt = await answered(asked, keys, (said) =>
    learnModel(seen, asked.tolerated, { isAsset: (text) => assets.has(text), said, keys }),
  );
  const model = { ...learnt, types: withInverses(learnt.types) };
  const stores = content.map((store, index) => withFields(store, inStores.get(storeName(index))));
  const files = written(root, model, { content: stores, fileMegabytes: asked.fileMegabytes });
  const isKnown = sources.areAlone && unreadable === 0 && assets.size === 0 && isProven(learnt, seen);
  return {
    lumbrik: resultVersion,
    command: 'learn',
    ...modelTold(model),
    keys: [...keys].map(([field, key]) => ({ field, key })),
    workspace: asked.out,
    files: [...files],
    left: left.map(({ keys: own, ...one }) => (own ? { ...one, keys: [...own] } : one)),
    alikeTypes: [...sources.alikeTypes],
    unreadable,
    questions: [...openQuestions(learnt)],
    ...(await oddOnes(root, isKnown)),
  };
}

/** A store that says which keys hold fields that cannot be called so. */
const withFields = (store: StoreOptions, fields: ReadonlyMap<string, string> = new Map()): StoreOptions =>
  fields.size === 0 ? store : { ...store, fields: Object.fromEntries(fields) };

type OddOnes = Pick<LearnResult, 'errors' | 'warnings' | 'summary'>;

/** What is wrong with entries by the learnt model. @param isKnown whether it is proven that nothing is. */
async function oddOnes(root: string, isKnown: boolean): Promise<OddOnes> {
  if (isKnown) {
    refuseMistakes(openWorkspace(root).mistakes);
    return { errors: 0, warnings: 0, summary: [] };
  }
  const examples = new Map<string, string>();
  const { mistakes, summary } = await check(
    { workspace: root },
    {
      tell: (findings) => {
        for (const { finding, entry, file, pointer } of findings)
          if (!examples.has(finding)) examples.set(finding, `${entry ?? file}${pointer === '' ? '' : `#${pointer}`}`);
      },
    },
  );
  refuseMistakes(mistakes);
  const countOf = (wanted: 'error' | 'warning'): number =>
    summary.reduce((sum, { severity, count }) => sum + (severity === wanted ? count : 0), 0);
  return {
    errors: countOf('error'),
    warnings: countOf('warning'),
    summary: summary.map(({ finding, count, about }) => ({
      finding,
      count,
      about,
      example: examples.get(finding) ?? '',
    })),
  };
}

function refuseMistakes([mistake]: readonly {
  readonly file: string;
  readonly line: number;
  readonly says: string;
}[]): void {
  if (mistake) throw new Error(`the learnt model has a mistake: ${mistake.file}:${mistake.line} ${mistake.says}`);
}

/** A learnt model as it is told. */
const modelTold = ({ languages, types, taxonomies, kits, unfit }: LearntModel) => ({
  languages: [...languages],
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
  fieldsBelow(fields).map(({ path: field, field: { says, evidence, against } }) => ({
    field,
    says: { ...says },
    evidence,
    against,
  }));

/** The sources as they lie below the root; copied there where that is asked for, and the copies noted. @throws {Trouble} */
function placed(root: string, { sources, isCopying, out }: LearnCall, copies: string[]): readonly string[] {
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
        `${source} does not lie in ${path.join(out, contentFolder)}, where the entries of a workspace are`,
        {
          mend: `Move it there, so that it is read where it is; or let it be copied: --copy`,
        },
      );
    if (statOf(path.join(root, to)))
      throw refuse('other-file', `there is ${to} already, and a copy would take its place`, {
        mend: 'Take one of them away.',
      });
    copies.push(path.join(root, to));
    try {
      makeFolder(path.join(root, contentFolder));
      fs.cpSync(from, path.join(root, to), { recursive: true, errorOnExist: true });
    } catch (error) {
      throw systemTrouble(error, path.join(out, to));
    }
    return to;
  });
}

/** Writes the model, and last what makes the folder a workspace: without that nothing counts. */
function written(root: string, model: LearntModel, said: Omit<LearntWorkspace, 'name'>): readonly string[] {
  const name = humanize(path.basename(root).replace(/[^\p{L}\p{N}]+/gu, '-')) || 'A workspace';
  const terms = model.taxonomies.map((one) => [termsFileOf(one.name), termsFile(one)] as const);
  const files = new Map([...terms, ...modelFiles(model, { ...said, name })]);
  const there = [...files.keys()].filter((file) => statOf(path.join(root, file)));
  if (there.length > 0)
    throw refuse('other-file', `there is ${list(there)} already`, {
      mend: 'Take that away, or learn in another folder.',
    });
  for (const [file, text] of files) writeWhole(path.join(root, file), text);
  return [...files.keys()];
}
