import fs from 'node:fs';
import path from 'node:path';
import { verify } from '../core/check/verifyModel.ts';
import { type BuiltInKeys, type FactKeys, factKeysOf } from '../core/definition/builtIn.ts';
import type { AdviceSettings, FindingSettings, StoreOptions } from '../core/definition/workspace.ts';
import type { WrittenModel } from '../core/model/inFiles.ts';
import { readingOrder } from '../core/model/languages.ts';
import { link, type Model } from '../core/model/link.ts';
import type { Mistake } from '../core/model/mistakes.ts';
import { type ReadModel, readModel } from '../core/model/read.ts';
import type { MistakeInFile } from '../core/model/resolved.ts';
import { compact, type Path } from '../core/plain/json.ts';
import { type Limits, limitsOf } from '../core/plain/limits.ts';
import { once } from '../core/plain/once.ts';
import { shellWord } from '../core/plain/shellWord.ts';
import { count } from '../core/plain/words.ts';
import { hashModel } from '../core/revision/canonical.ts';
import type { ContentTerms } from '../core/taxonomy/linkTaxonomy.ts';
import { contentTermsIn, isTermsFile, termsFilesIn } from './contentTerms.ts';
import { exitCodes } from './exitCodes.ts';
import { listFiles } from './files.ts';
import { fingerprintOf, type Remembered, recall, remember } from './memory/modelMemory.ts';
import { type ModelMistake, originOf, placed, withoutRepeats } from './modelMistake.ts';
import { type Instead, readFiles, withInstead, workspaceFile } from './readFiles.ts';
import { type Records, recordsIn } from './records.ts';
import { readSettings } from './settings.ts';
import { type Place, Trouble } from './trouble.ts';

/** A workspace as it is on the disk now. Paths in it are relative to its root, with `/`. */
export interface Workspace {
  readonly root: string;
  readonly name: string;
  readonly languages: readonly string[];
  /** Under which keys its entries have what every entry has. */
  readonly factKeys: FactKeys;
  /** What its files may cost. */
  readonly limits: Limits;
  readonly model: Model;
  /** The model as it is read in a language: what it says to people is stated in that, or in what is in for it. */
  readonly modelIn: (language: string) => Model;
  /** The hash of the model in the working files. */
  readonly modelHash: string;
  readonly mistakes: readonly ModelMistake[];
  readonly records: Records;
  /** Where its entries are, as `lumbrik.yaml` says. */
  readonly content: readonly StoreOptions[];
  /** What the check makes of findings, as `lumbrik.yaml` says. */
  readonly findings: FindingSettings;
  /** What the review of the model leaves out, as `lumbrik.yaml` says. */
  readonly advice: AdviceSettings;
  /** The file that says something about a path of the model document. */
  readonly fileOf: (path: Path) => string | undefined;
  /** Where in that file it does. */
  readonly placeOf: (path: Path) => Place | undefined;
  /** The files of its model: their content, and every place that says something about a path of the model document. */
  readonly written: () => WrittenModel;
}

/** The folder of the workspace: the one named, or the nearest upwards that holds `lumbrik.yaml`. @throws {Trouble} */
export function findWorkspace(named: string | undefined): string {
  const start = path.resolve(named ?? process.cwd());
  if (named !== undefined) {
    if (fs.existsSync(path.join(start, workspaceFile))) return start;
    throw new Trouble('no-workspace', `${named} is no workspace: it holds no ${workspaceFile}`, {
      mend: `Make one there: lumbrik new ${shellWord(named)}`,
      where: { file: named },
    });
  }

  const root = workspaceAround(start);
  if (root !== undefined) return root;
  throw new Trouble(
    'no-workspace',
    `there is no workspace here: neither ${start} nor a folder above it holds ${workspaceFile}`,
    { mend: 'Go into one, name one with --workspace <folder>, or make one: lumbrik new <folder>' },
  );
}

/** The workspace that a folder is, or is in; `undefined` where it is in none. */
export function workspaceAround(folder: string): string | undefined {
  for (let above = folder; ; above = path.dirname(above)) {
    if (fs.existsSync(path.join(above, workspaceFile))) return above;
    if (path.dirname(above) === above) return undefined;
  }
}

/** Reads a workspace with all mistakes in its model. @throws {Trouble} where `lumbrik.yaml` itself cannot be used. */
export function openWorkspace(named: string | undefined, instead: Instead = new Map()): Workspace {
  const isNew = instead.get(workspaceFile) !== undefined && named !== undefined;
  const root = isNew ? path.resolve(named) : findWorkspace(named);
  const fingerprint =
    instead.size > 0 ? undefined : fingerprintOf(root, [workspaceFile, ...modelFiles(root), ...termsFilesIn(root)]);
  const existing = fingerprint === undefined ? undefined : recall(root, fingerprint);
  if (existing) return remembered(root, existing);

  const read = readWorkspace(root, instead);

  if (fingerprint !== undefined && read.mistakes.length === 0)
    remember(root, fingerprint, {
      name: read.name,
      languages: read.languages,
      modelHash: read.modelHash,
      limits: read.limits,
      builtIn: read.builtIn,
      content: read.content,
      findings: read.findings,
      advice: read.advice,
      model: () => ({ definition: read.model.definition, terms: [...read.terms] }),
    });

  return read;
}

/** A workspace whose model was read before and has no mistakes. */
function remembered(root: string, { builtIn, model, ...settings }: Remembered): Workspace {
  const linked = once((): { readonly main: Model; readonly in: Workspace['modelIn'] } => {
    const { definition, terms } = model();
    const contentTerms = new Map(terms);
    return {
      main: link(definition, contentTerms),
      in: (language) => link(definition, contentTerms, readingOrder(definition, language)),
    };
  });
  // Places are requested by findings, one after the other: the files are read for all of them together.
  const read = once(() => readWorkspace(root, new Map()));

  return {
    ...settings,
    root,
    factKeys: factKeysOf(builtIn),
    get model() {
      return linked().main;
    },
    modelIn: (language) => linked().in(language),
    mistakes: [],
    records: recordsIn(root),
    fileOf: (path) => read().fileOf(path),
    placeOf: (path) => read().placeOf(path),
    written: () => read().written(),
  };
}

function readWorkspace(
  root: string,
  instead: Instead,
): Workspace & {
  readonly terms: ReadonlyMap<string, ContentTerms>;
  readonly builtIn: BuiltInKeys;
} {
  const { workspace: name, languages, languageOptions, ...settings } = readSettings(root, instead);
  const limits = limitsOf(settings.limits);
  const factKeys = factKeysOf(settings.builtIn);
  const { files, mistakes: unreadable } = readFiles(
    root,
    withInstead(modelFiles(root), instead, (file) => !isTermsFile(file) && file !== workspaceFile),
    { limits, instead },
  );
  const read = readModel(
    files.map(({ file, source }) => ({ file, source })),
    compact({ languages, languageOptions, factKeys }),
  );
  const termsFiles = readFiles(root, withInstead(termsFilesIn(root), instead, isTermsFile), { limits, instead });
  const { terms, mistakes: inTerms } = contentTermsIn(termsFiles.files, read.model);
  const model = link(read.model, terms);
  let hash: string | undefined;
  const byFile = new Map([...files, ...termsFiles.files].map((file) => [file.file, file]));
  const inModel =
    unreadable.length === 0 && read.isWhole ? mistakesInWhole(read, model, inTerms) : mistakesInParts(read);
  const mistakes = withoutRepeats([
    ...unreadable,
    ...termsFiles.mistakes,
    ...inModel.inFiles.flatMap((mistake) => placed(byFile.get(mistake.file), mistake.path, mistake)),
    ...inModel.across.flatMap((mistake) => originOf(mistake, read, byFile)),
  ]).sort((a, b) => a.file.localeCompare(b.file) || a.line - b.line || a.column - b.column);

  return {
    root,
    name,
    languages,
    model,
    modelIn: (language) => link(read.model, terms, readingOrder(read.model, language)),
    get modelHash() {
      hash ??= hashModel(model.definition);
      return hash;
    },
    mistakes,
    records: recordsIn(root),
    terms,
    ...settings,
    factKeys,
    limits,
    fileOf: (path) => read.origin(path)?.file,
    placeOf: (path) => {
      const origin = read.origin(path);
      const file = origin && byFile.get(origin.file);
      if (origin && file) return { file: origin.file, ...file.source.locate(origin.path) };
      return undefined;
    },
    written: () => ({ placesOf: read.origins, dataOf: (file) => byFile.get(file)?.source.data ?? null }),
  };
}

/** Mistakes in single files of a model, and those in what its files say together. */
interface ModelMistakes {
  readonly inFiles: readonly MistakeInFile[];
  readonly across: readonly Mistake[];
}

/** The mistakes of a model whose files can all be read. */
const mistakesInWhole = (read: ReadModel, model: Model, inTerms: readonly MistakeInFile[]): ModelMistakes => ({
  inFiles: [...read.mistakes, ...inTerms],
  across: [...verify(model)].filter((mistake) => !follows(mistake, read)),
});

/** The mistakes of the other ones: what a file was to define that cannot be read would be missed everywhere. */
const mistakesInParts = ({ mistakes }: ReadModel): ModelMistakes => ({
  inFiles: mistakes.filter(({ isUndefined }) => !isUndefined),
  across: [],
});

/** Whether a mistake only says that a field is missing which is there, and has its own mistake. */
const follows = ({ misses }: Mistake, { mistakes }: ReadModel): boolean =>
  misses !== undefined && mistakes.some(({ path }) => path[0] === 'fields' && path[1] === misses);

/** Reads a workspace whose model has to be right. @throws {Trouble} that names the first mistakes. */
export function openSoundWorkspace(named: string | undefined): Workspace {
  const workspace = openWorkspace(named);
  const [first, ...rest] = workspace.mistakes;
  if (!first) return workspace;

  const also = rest.slice(0, 4).map(({ file, line, column, says: message }) => `${file}:${line}:${column}  ${message}`);
  throw new Trouble(
    'model-mistakes',
    rest.length === 0
      ? `the model has a mistake: ${first.says}`
      : `the model has ${count(workspace.mistakes.length, 'mistake')}; the first: ${first.says}`,
    {
      mend: `${first.mend} All of them: lumbrik check`,
      where: first,
      also,
      exit: exitCodes.unusable,
    },
  );
}

/** The files of the model, by their paths in the workspace. */
export const modelFiles = (root: string): readonly string[] =>
  listFiles(root, 'model', ['.yaml', '.yml', '.json']).map((name) => `model/${name}`);
