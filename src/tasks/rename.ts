import path from 'node:path';
import { z } from 'zod';
import type { ModelDoc } from '../core/definition/model.ts';
import { addressOfRename, type Rename } from '../core/definition/rename.ts';
import { compare } from '../core/diff/compare.ts';
import { sayDifference } from '../core/diff/difference.ts';
import { renamesEverywhere } from '../core/diff/match.ts';
import { type StatedRenames, withMove, withRename } from '../core/diff/statedRenames.ts';
import { editsOfMove, editsOfRename } from '../core/model/inFiles.ts';
import { type Move, moveInModel, outsideOnly } from '../core/model/move.ts';
import { formOf } from '../core/model/nestedFields.ts';
import { compact, isList, isObject, own } from '../core/plain/json.ts';
import { shellWord } from '../core/plain/shellWord.ts';
import type { Edit } from '../core/source/editOperation.ts';
import { readYaml } from '../core/source/yaml.ts';
import type { Wanted } from '../journal/change.ts';
import { openStore } from '../stores/open.ts';
import { termsFileOf } from '../workspace/contentTerms.ts';
import { editedText } from '../workspace/edited.ts';
import { hashBytes, readTextOrRefuse, statOf } from '../workspace/files.ts';
import { type Workspace, workspaceFile } from '../workspace/open.ts';
import { refuse } from '../workspace/trouble.ts';
import type { Call } from './call.ts';
import { carryEntries, isUnrecorded } from './carryEntries.ts';
import { obeyedModel } from './modelOfEntries.ts';
import { writing } from './openForCall.ts';
import { readMove, readRename, readRenameOptions } from './renameOptions.ts';
import { head, resultVersion } from './result.ts';
import { keptSchemaChanges } from './schemas.ts';
import { readStated, sayMove, sayRename, statedChange, withStated } from './statedChanges.ts';
import { lastOf, refuseUnfitMove, refuseUnfitRename } from './unfitRename.ts';
import { modelWritten, writeModelRead } from './writeModel.ts';

export const RenameResult = z.strictObject({
  ...head('rename'),
  /** What got another name, or stands elsewhere: its address before and after. */
  from: z.string(),
  to: z.string(),
  /** The files that were written; one that is called otherwise now, with its old name. */
  files: z.array(z.strictObject({ file: z.string(), was: z.string().optional() })),
  /** Where else the field arrives, and is called so too. */
  arrives: z.array(z.string()),
  /** What the definition no longer says, since it means nothing where the field stands now. */
  left: z.array(z.string()),
  /** How many files of entries followed at once: so it is as long as no revision is recorded. */
  entries: z.int().optional(),
  /** How many files or lines could not be read as an entry then, and stay as they are. */
  unreadable: z.int().optional(),
  /** What is stated by now for the next draft, as `--renamed` and `--moved` would say it. */
  stated: z.array(z.string()),
});
export type RenameResult = z.output<typeof RenameResult>;

/** Gives something in the model's files another name, with all that mentions it, and states that for the next draft. */
export async function rename(call: Call, address: string, name: string): Promise<RenameResult> {
  return writing(call, async (workspace) => {
    const { definition } = workspace.model;
    const wanted = readRename(`${address}=${name}`, `“${address} ${name}”`);
    refuseUnfitRename(wanted, workspace);
    const all = renamesEverywhere(wanted, definition);
    const edits = editsOfRename(definition, all, workspace.written());
    const files = renamedFiles(workspace, withSettings(edits, workspace, all), wanted);
    const to = `${addressOfRename(wanted).slice(0, -lastOf(wanted).length)}${wanted.to}${wanted.what === 'taxonomy' ? ':' : ''}`;
    return write(call, workspace, {
      name: `rename ${shellWord(address)} ${shellWord(name)}`,
      said: { renames: [wanted], moves: [], apart: new Set() },
      files,
      from: addressOfRename(wanted),
      to,
      arrives: all.slice(1).map(addressOfRename),
      left: [],
      state: (stated) => withRename(stated, wanted),
    });
  });
}

/** Puts a field into another place of its type in the model's files, and states that for the next draft. */
export async function move(call: Call, address: string, to: string): Promise<RenameResult> {
  return writing(call, async (workspace) => {
    const { definition } = workspace.model;
    const wanted = readMove(`${address}=${to}`, `“${address} ${to}”`);
    refuseUnfitMove(wanted, workspace);
    const after = moveInModel(definition, wanted);
    const edits = editsOfMove(definition, after, wanted, workspace.written());
    return write(call, workspace, {
      name: `move ${shellWord(address)} ${shellWord(to)}`,
      said: { renames: [], moves: [wanted], apart: new Set() },
      files: renamedFiles(workspace, edits),
      from: address,
      to,
      arrives: [],
      left: leftBehind(definition, wanted),
      state: (stated) => withMove(stated, wanted),
    });
  });
}

/** The options of a field that it loses inside an object. */
function leftBehind({ types }: ModelDoc, { type, from, to }: Move): readonly string[] {
  const definition = formOf(own(types, type)?.fields ?? {}, from);
  return to.includes('.') && definition ? outsideOnly.filter((option) => Object.hasOwn(definition, option)) : [];
}

interface Writing {
  readonly said: StatedRenames;
  readonly files: readonly (Wanted & { readonly was?: string })[];
  readonly from: string;
  readonly to: string;
  /** The call that does it, without the program's name. */
  readonly name: string;
  readonly arrives: readonly string[];
  readonly left: readonly string[];
  /** What is stated with this beside what was stated before. */
  readonly state: (stated: Stated) => Stated;
}
interface Stated {
  readonly renames: readonly Rename[];
  readonly moves: readonly Move[];
}

/** Writes the files, once they are known to say what was meant and nothing else. @throws {Trouble} */
async function write(
  call: Call,
  workspace: Workspace,
  { said, files, from, to, name, arrives, left, state }: Writing,
): Promise<RenameResult> {
  const { root, model } = workspace;
  const wanted = files.flatMap(({ file, was, text, from: read }): readonly Wanted[] =>
    was === undefined
      ? [compact({ file, text, from: read })]
      : [compact({ file, text, from: null }), compact({ file: was, from: read })],
  );
  const after = modelWritten(root, wanted);
  const { differences, misstated, misplaced } = compare(model.definition, after.model.definition, said);
  const others = differences.filter(({ name }) => !['renamed', 'moved', 'shared-changed'].includes(name));
  if (misstated.length + misplaced.length + others.length > 0)
    throw refuse(
      'cannot-edit',
      `the files of the model are written in a way in which \`${from}\` cannot be changed by itself`,
      {
        mend: `Nothing was written. Change the files by hand, and say when you draft: lumbrik migration draft ${said.renames.map((one) => `--renamed ${shellWord(sayRename(one))}`).join(' ')}${said.moves?.map((one) => `--moved ${shellWord(sayMove(one))}`).join(' ')}`,
        also: others.slice(0, 5).map((difference) => sayDifference(difference, 'to')),
      },
    );

  const told: Omit<RenameResult, 'entries' | 'unreadable' | 'stated'> = {
    lumbrik: resultVersion,
    command: 'rename',
    from,
    to,
    files: files.map(({ file, was }) => compact({ file, was })),
    arrives: [...arrives],
    left: [...left],
  };
  if (isUnrecorded(workspace) && openStore(workspace).can.restoreBytes) {
    const all = [...wanted, ...keptSchemaChanges(after)];
    const carried = await carryEntries(call, { before: workspace, after, files: all, said, name });
    return { ...told, ...carried, stated: [] };
  }

  const before = await obeyedModel(workspace).then(
    ({ definition }) => definition,
    () => model.definition,
  );
  const known = readRenameOptions(withStated({}, readStated(root), [before, model.definition]));
  const stated = state({ renames: known.renames, moves: known.moves ?? [] });
  const texts = { renamed: stated.renames.map(sayRename), moved: stated.moves.map(sayMove) };
  writeModelRead(root, [...wanted, statedChange(texts)], after);
  return { ...told, stated: [...texts.renamed, ...texts.moved] };
}

/**
 * The same with what lumbrik.yaml says of where entries are: the type of those in a store, and the keys that hold fields.
 * Then the entries keep their keys, and are known by the new names.
 */
function withSettings(
  edits: ReadonlyMap<string, readonly Edit[]>,
  { root, content, model }: Workspace,
  all: readonly Rename[],
): ReadonlyMap<string, readonly Edit[]> {
  const read = readYaml(readTextOrRefuse(path.join(root, workspaceFile), workspaceFile));
  const stores = 'value' in read && isObject(read.value.data) ? read.value.data.content : undefined;
  const edited = (isList(stores) ? stores : []).flatMap((store, index): readonly Edit[] => {
    const type = isObject(store) ? store.type : undefined;
    const [named] = all.filter((one) => one.what === 'type' && type === one.from);
    // A key is that of all types whose entries the store may keep: it is called otherwise once all of them call it so.
    const [field] = all.filter(
      (one) => one.what === 'field' && own(content[index]?.fields ?? {}, one.from) !== undefined,
    );
    const concerned =
      type === undefined
        ? [...model.types.values()].filter(({ fields }) => field && fields.has(field.from)).map(({ name }) => name)
        : [type];
    const isForAll = concerned.every((name) => all.some((one) => one.what === 'field' && one.type === name));
    return [
      ...(named ? [{ do: 'set' as const, path: ['content', index, 'type'], value: named.to }] : []),
      ...(field && isForAll
        ? [{ do: 'rename' as const, inside: ['content', index, 'fields'], key: field.from, to: field.to }]
        : []),
    ];
  });
  return edited.length === 0 ? edits : new Map(edits).set(workspaceFile, edited);
}

/** Files after some edits; what defines a type or a taxonomy is called after it, where it was. */
function renamedFiles(
  { root, model }: Workspace,
  edits: ReadonlyMap<string, readonly Edit[]>,
  rename?: Rename,
): readonly (Wanted & { readonly was?: string })[] {
  const edited = (file: string, some: readonly Edit[]): Wanted => {
    const before = readTextOrRefuse(path.join(root, file), file);
    return { file, text: editedText(file, before, some), from: hashBytes(before) };
  };
  const files = [...edits].map(([file, some]) => edited(file, some));
  if (rename?.what !== 'type' && rename?.what !== 'taxonomy') return files;
  const terms = termsFileOf(rename.from);
  const isOpen =
    rename.what === 'taxonomy' && model.taxonomies.get(rename.from)?.isOpen && statOf(path.join(root, terms));
  const all = isOpen ? [...files, edited(terms, [{ do: 'set', path: ['taxonomy'], value: rename.to }])] : files;
  return all.map((one) => {
    const [, folder = '', ending = ''] = new RegExp(`^(.*/)${rename.from}(\\.[^/]+)$`, 'u').exec(one.file) ?? [];
    if (ending === '') return one;
    const file = `${folder}${rename.to}${ending}`;
    if (statOf(path.join(root, file)))
      throw refuse('file-exists', `${file} is there already, and ${one.file} would be called so`, {
        mend: 'Give one of the two another name; nothing was written.',
        where: { file },
      });
    return { ...one, file, was: one.file };
  });
}
