import fs from 'node:fs';
import path from 'node:path';
import { z } from 'zod';
import { setBuiltInKeys } from '../core/definition/builtIn.ts';
import { contentFolder } from '../core/definition/workspace.ts';
import { withInverses } from '../core/learn/inverseNames.ts';
import { Learner, type LearntModel } from '../core/learn/learnModel.ts';
import { modelFiles, termsFile } from '../core/learn/modelFiles.ts';
import { fieldsBelow, type LearntField } from '../core/learn/value.ts';
import { compact } from '../core/plain/json.ts';
import { JsonValue } from '../core/plain/jsonValue.ts';
import { humanize, list } from '../core/plain/words.ts';
import { openStore } from '../stores/open.ts';
import type { StoreHome } from '../stores/store.ts';
import { termsFileOf } from '../workspace/contentTerms.ts';
import { listFiles, statOf, writeWhole } from '../workspace/files.ts';
import { makeFolder } from '../workspace/makeFolder.ts';
import { workspaceFile } from '../workspace/open.ts';
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
      /** Keys that no field can be called, and so are in no field. */
      unfit: z.array(z.string()),
    }),
  ),
  taxonomies: z.array(z.strictObject({ name: z.string(), terms: z.int(), fields: z.array(z.string()) })),
  /** Groups of fields that recur in types, and are kept once. */
  kits: z.array(z.strictObject({ kit: z.string(), fields: z.array(z.string()), types: z.array(z.string()) })),
  /** Names in the data that no type can be called: their entries are in none. */
  unfit: z.array(z.string()),
  /** Files in which no entries were found, and things in others that cannot be read as one. */
  left: z.array(z.strictObject({ file: z.string(), because: z.string() })),
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
  const { content, typeKey, alikeTypes, left } = sourcesIn(root, wanted, asked);
  if (content.length === 0)
    throw new Trouble('no-entries', `there are no entries to learn from below ${path.join(asked.out, contentFolder)}`, {
      mend: 'Put them there, as <type>/<id>.md, .yaml or .json, in files of lines (.ndjson), in tables (.csv) or in lists (.json); or name them: lumbrik learn ../export --copy',
      also: left.slice(0, mostLeft).map(({ file, because }) => `${file}: ${because}`),
    });
  setBuiltInKeys({ type: typeKey });
  const learner = new Learner();
  const unreadable = await readAll(call, learner, { root, content });
  const assets = new Set(listFiles(root, 'assets', ['']));
  const learnt = await answered(asked, (said) =>
    learner.learn(asked.tolerated, { isAsset: (text) => assets.has(text), said }),
  );
  const model = { ...learnt, types: withInverses(learnt.types) };
  const files = written(root, model, content);
  const checked = await check({ workspace: root });
  const [mistake] = checked.mistakes;
  if (mistake) throw new Error(`the learnt model has a mistake: ${mistake.file}:${mistake.line} ${mistake.says}`);
  return {
    lumbrik: resultVersion,
    command: 'learn',
    workspace: asked.out,
    files: [...files],
    languages: [...model.languages],
    types: model.types.map(({ name, entries, titled, fields, unfit }) =>
      compact({
        type: name,
        entries,
        titled,
        fields: fieldsTold(fields),
        unfit: [...unfit],
      }),
    ),
    taxonomies: model.taxonomies.map(({ name, terms, fields }) => ({ name, terms: terms.length, fields: [...fields] })),
    kits: model.kits.map(({ name, fields, types }) => ({
      kit: name,
      fields: fields.map((field) => field.name),
      types: [...types],
    })),
    unfit: [...model.unfit],
    left: [...left],
    alikeTypes: [...alikeTypes],
    unreadable,
    questions: [...openQuestions(learnt)],
    errors: checked.findings.filter(({ severity }) => severity === 'error').length,
    warnings: checked.findings.filter(({ severity }) => severity === 'warning').length,
    summary: checked.summary.map(({ finding, count, about }) => {
      const { entry, file, pointer } = checked.findings.find((one) => one.finding === finding) ?? {
        file: '',
        pointer: '',
      };
      return { finding, count, about, example: `${entry ?? file}${pointer === '' ? '' : `#${pointer}`}` };
    }),
  };
}

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

/** Shows all entries to a learner. @returns how many things cannot be read as one. */
async function readAll({ watch }: Call, learner: Learner, home: StoreHome): Promise<number> {
  const store = openStore(home);
  let unreadable = 0;
  for (const part of await store.parts(1))
    for await (const item of store.read(part)) {
      watch?.({ count: 1 });
      if (!('entry' in item)) unreadable += 1;
      else learner.see(item.entry, 'csv' in (home.content[Number(item.place.store) - 1] ?? {}));
    }
  return unreadable;
}

/** Writes the model, and last what makes the folder a workspace: without that nothing counts. */
function written(root: string, model: LearntModel, content: StoreHome['content']): readonly string[] {
  const workspace = humanize(path.basename(root).replace(/[^\p{L}\p{N}]+/gu, '-')) || 'A workspace';
  const terms = model.taxonomies.map((one) => [termsFileOf(one.name), termsFile(one)] as const);
  const files = new Map([...terms, ...modelFiles(model, { workspace, content })]);
  const there = [...files.keys()].filter((file) => statOf(path.join(root, file)));
  if (there.length > 0)
    throw refuse('other-file', `there is ${list(there)} already`, {
      mend: 'Take that away, or learn in another folder.',
    });
  for (const [file, text] of files) writeWhole(path.join(root, file), text);
  return [...files.keys()];
}
