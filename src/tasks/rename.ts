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
import { compact, isList, isObject, ownValue } from '../core/plain/json.ts';
import { shellWord } from '../core/plain/shellWord.ts';
import type { Edit } from '../core/source/editOperation.ts';
import { readYaml } from '../core/source/yaml.ts';
import type { WantedChange } from '../journal/change.ts';
import { openStore } from '../stores/open.ts';
import { termsFileOf } from '../workspace/contentTerms.ts';
import { editedText } from '../workspace/edited.ts';
import { hashBytes, readTextOrRefuse, statOf } from '../workspace/files.ts';
import type { Workspace } from '../workspace/open.ts';
import { workspaceFile } from '../workspace/readFiles.ts';
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

/** The result of `lumbrik rename`. */
export const RenameResult = z.strictObject({
  ...head('rename'),
  /** What got another name, or is elsewhere: its address before and after. */
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
  /** The statements for the next draft, as `--renamed` and `--moved` would make them. */
  stated: z.array(z.string()),
});
export type RenameResult = z.output<typeof RenameResult>;

/** Gives something in the model's files another name, with all that mentions it, and states that for the next draft. */
export async function rename(call: Call, address: string, name: string): Promise<RenameResult> {
  return writing(call, async (workspace) => {
    const { definition } = workspace.model;
    const rename = readRename(`${address}=${name}`, `“${address} ${name}”`);
    refuseUnfitRename(rename, workspace);
    const renames = renamesEverywhere(rename, definition);
    const edits = editsOfRename(definition, renames, workspace.written());
    const files = renamedFiles(workspace, withSettings(edits, workspace, renames), rename);
    const to = `${addressOfRename(rename).slice(0, -lastOf(rename).length)}${rename.to}${rename.what === 'taxonomy' ? ':' : ''}`;

    return write(call, workspace, {
      name: `rename ${shellWord(address)} ${shellWord(name)}`,
      stated: { renames: [rename], moves: [], apart: new Set() },
      files,
      from: addressOfRename(rename),
      to,
      arrives: renames.slice(1).map(addressOfRename),
      left: [],
      state: (stated) => withRename(stated, rename),
    });
  });
}

/** Puts a field into another place of its type in the model's files, and states that for the next draft. */
export async function move(call: Call, address: string, to: string): Promise<RenameResult> {
  return writing(call, async (workspace) => {
    const { definition } = workspace.model;
    const move = readMove(`${address}=${to}`, `“${address} ${to}”`);
    refuseUnfitMove(move, workspace);
    const after = moveInModel(definition, move);
    const edits = editsOfMove(definition, after, move, workspace.written());

    return write(call, workspace, {
      name: `move ${shellWord(address)} ${shellWord(to)}`,
      stated: { renames: [], moves: [move], apart: new Set() },
      files: renamedFiles(workspace, edits),
      from: address,
      to,
      arrives: [],
      left: leftBehind(definition, move),
      state: (stated) => withMove(stated, move),
    });
  });
}

/** The options of a field that it loses inside an object. */
function leftBehind({ types }: ModelDoc, { type, from, to }: Move): readonly string[] {
  const definition = formOf(ownValue(types, type)?.fields ?? {}, from);
  if (to.includes('.') && definition) return outsideOnly.filter((option) => Object.hasOwn(definition, option));
  return [];
}

interface RenameWriting {
  readonly stated: StatedRenames;
  readonly files: readonly (WantedChange & { readonly was?: string })[];
  readonly from: string;
  readonly to: string;
  /** The call that does it, without the program's name. */
  readonly name: string;
  readonly arrives: readonly string[];
  readonly left: readonly string[];
  /** The statements of before, and this one. */
  readonly state: (stated: Stated) => Stated;
}
interface Stated {
  readonly renames: readonly Rename[];
  readonly moves: readonly Move[];
}

/** Writes the files, once they are known to say what was intended and nothing else. @throws {Trouble} */
async function write(
  call: Call,
  workspace: Workspace,
  { stated: statedRenames, files, from, to, name, arrives, left: remaining, state }: RenameWriting,
): Promise<RenameResult> {
  const { root, model } = workspace;
  const changes = files.flatMap(({ file, was: formerName, text, from: read }): readonly WantedChange[] =>
    formerName === undefined
      ? [compact({ file, text, from: read })]
      : [compact({ file, text, from: null }), compact({ file: formerName, from: read })],
  );
  const after = modelWritten(root, changes);
  const { differences, misstated, misplaced } = compare(model.definition, after.model.definition, statedRenames);
  const otherDifferences = differences.filter(({ name }) => !['renamed', 'moved', 'shared-changed'].includes(name));
  if (misstated.length + misplaced.length + otherDifferences.length > 0)
    throw refuse(
      'cannot-edit',
      `the files of the model are written in a way in which \`${from}\` cannot be changed by itself`,
      {
        mend: `Nothing was written. Change the files by hand, and say when you draft: lumbrik migration draft ${statedRenames.renames.map((rename) => `--renamed ${shellWord(sayRename(rename))}`).join(' ')}${statedRenames.moves?.map((move) => `--moved ${shellWord(sayMove(move))}`).join(' ')}`,
        also: otherDifferences.slice(0, 5).map((difference) => sayDifference(difference, 'to')),
      },
    );

  const result: Omit<RenameResult, 'entries' | 'unreadable' | 'stated'> = {
    lumbrik: resultVersion,
    command: 'rename',
    from,
    to,
    files: files.map(({ file, was: formerName }) => compact({ file, was: formerName })),
    arrives: [...arrives],
    left: [...remaining],
  };
  if (isUnrecorded(workspace) && openStore(workspace).can.restoreBytes) {
    const list = [...changes, ...keptSchemaChanges(after)];
    const carried = await carryEntries(call, { before: workspace, after, files: list, stated: statedRenames, name });
    return { ...result, ...carried, stated: [] };
  }

  const before = await obeyedModel(workspace).then(
    ({ definition }) => definition,
    () => model.definition,
  );
  const renames = readRenameOptions(withStated({}, readStated(root), [before, model.definition]));
  const stated = state({ renames: renames.renames, moves: renames.moves ?? [] });
  const texts = { renamed: stated.renames.map(sayRename), moved: stated.moves.map(sayMove) };
  writeModelRead(root, [...changes, statedChange(texts)], after);

  return { ...result, stated: [...texts.renamed, ...texts.moved] };
}

/**
 * The same with what lumbrik.yaml says of where entries are: the type of those in a store, and the keys that hold fields.
 * Then the entries keep their keys, and are known by the new names.
 */
function withSettings(
  edits: ReadonlyMap<string, readonly Edit[]>,
  { root, content, model, limits }: Workspace,
  renames: readonly Rename[],
): ReadonlyMap<string, readonly Edit[]> {
  const read = readYaml(readTextOrRefuse(path.join(root, workspaceFile), workspaceFile, limits), limits);
  const stores = 'value' in read && isObject(read.value.data) ? read.value.data.content : undefined;
  const edited = (isList(stores) ? stores : []).flatMap((store, index): readonly Edit[] => {
    const type = isObject(store) ? store.type : undefined;
    const [named] = renames.filter((rename) => rename.what === 'type' && type === rename.from);
    // A key is the one of all types whose entries the store may keep: it is called otherwise once all of them call it so.
    const [field] = renames.filter(
      (rename) => rename.what === 'field' && ownValue(content[index]?.fields ?? {}, rename.from) !== undefined,
    );
    const concerned =
      type === undefined
        ? [...model.types.values()].filter(({ fields }) => field && fields.has(field.from)).map(({ name }) => name)
        : [type];
    const isForAll = concerned.every((name) =>
      renames.some((rename) => rename.what === 'field' && rename.type === name),
    );

    return [
      ...(named ? [{ do: 'set' as const, path: ['content', index, 'type'], value: named.to }] : []),
      ...(field && isForAll
        ? [{ do: 'rename' as const, inside: ['content', index, 'fields'], key: field.from, to: field.to }]
        : []),
    ];
  });

  if (edited.length === 0) return edits;
  return new Map(edits).set(workspaceFile, edited);
}

/** Files after some edits; what defines a type or a taxonomy is called after it, where it was. */
function renamedFiles(
  { root, model, limits }: Workspace,
  edits: ReadonlyMap<string, readonly Edit[]>,
  rename?: Rename,
): readonly (WantedChange & { readonly was?: string })[] {
  const edited = (file: string, some: readonly Edit[]): WantedChange => {
    const before = readTextOrRefuse(path.join(root, file), file, limits);
    return { file, text: editedText(file, before, some), from: hashBytes(before) };
  };

  const files = [...edits].map(([file, some]) => edited(file, some));
  if (rename?.what !== 'type' && rename?.what !== 'taxonomy') return files;

  const terms = termsFileOf(rename.from);
  const isOpen =
    rename.what === 'taxonomy' && model.taxonomies.get(rename.from)?.isOpen && statOf(path.join(root, terms));
  const changes = isOpen ? [...files, edited(terms, [{ do: 'set', path: ['taxonomy'], value: rename.to }])] : files;

  return changes.map((change) => {
    const [, folder = '', ending = ''] = new RegExp(`^(.*/)${rename.from}(\\.[^/]+)$`, 'u').exec(change.file) ?? [];
    if (ending === '') return change;

    const file = `${folder}${rename.to}${ending}`;
    if (statOf(path.join(root, file)))
      throw refuse('file-exists', `${file} is there already, and ${change.file} would be called so`, {
        mend: 'Give one of the two another name; nothing was written.',
        where: { file },
      });
    return { ...change, file, was: change.file };
  });
}
