import path from 'node:path';
import { createTwoFilesPatch } from 'diff';
import { z } from 'zod';
import type { FieldDoc } from '../core/definition/field.ts';
import { valueDoc } from '../core/learn/learnField.ts';
import { learnModel } from '../core/learn/learnModel.ts';
import type { LearntType } from '../core/learn/learntModel.ts';
import { typeFile } from '../core/learn/modelFiles.ts';
import type { LearntField } from '../core/learn/value.ts';
import { at, compact, isList, isObject, type Json, ownValue } from '../core/plain/json.ts';
import { quote } from '../core/plain/words.ts';
import type { Edit } from '../core/source/editOperation.ts';
import { readYaml } from '../core/source/yaml.ts';
import { learnPass } from '../passes/learn.ts';
import { walk } from '../passes/walk.ts';
import { openStore } from '../stores/open.ts';
import { editedText } from '../workspace/edited.ts';
import { listFiles, readTextOrRefuse } from '../workspace/files.ts';
import type { Workspace } from '../workspace/open.ts';
import type { Call } from './call.ts';
import { writing } from './openForCall.ts';
import { head, resultVersion } from './result.ts';
import { modelWritten, writeModelRead } from './writeModel.ts';

/** The result of `lumbrik learn`. */
export const LearnIntoResult = z.strictObject({
  ...head('learn'),
  /** What the entries show and the model does not say. */
  proposals: z.array(
    z.strictObject({
      address: z.string(),
      says: z.string(),
      evidence: z.string(),
      /** Why it cannot be added by itself. */
      open: z.string().optional(),
    }),
  ),
  /** The outcome for files, as differences of their text (unified format). */
  files: z.array(z.strictObject({ file: z.string(), patch: z.array(z.string()) })),
  isWritten: z.boolean(),
});
export type LearnIntoResult = z.output<typeof LearnIntoResult>;

/** The options of learning into an existing model. */
export interface LearnIntoCall {
  /** So large a share of values may be otherwise. */
  readonly tolerated: number;
  /** Whether the files are changed; else they are only told. */
  readonly isWriting: boolean;
}

type Proposal = LearnIntoResult['proposals'][number];

/** Looks at the entries of a workspace for what its model does not say yet, and proposes it. */
export async function learnInto(call: Call, { tolerated, isWriting }: LearnIntoCall): Promise<LearnIntoResult> {
  return writing(call, async (workspace) => {
    const { root } = workspace;
    const assets = new Set(listFiles(root, 'assets', ['']));
    const pass = learnPass(workspace);
    const [{ seen: seenEntries, keys }] = await walk(openStore(workspace), [pass], { watch: call.watch });
    const learnt = learnModel(seenEntries, tolerated, {
      factKeys: workspace.factKeys,
      isAsset: (text) => assets.has(text),
      keys,
    });
    const changes = learnt.types.map((type) => newIn(type, workspace, keys));
    const texts = changes.flatMap(({ file }) => file ?? []);
    const after = texts.length > 0 ? modelWritten(root, texts) : undefined;
    if (isWriting && after) writeModelRead(root, texts, after);

    return {
      lumbrik: resultVersion,
      command: 'learn',
      proposals: changes.flatMap(({ proposals }) => proposals),
      files: texts.map(({ file, before, text }) => ({
        file,
        patch: patchOf(file, before, text),
      })),
      isWritten: isWriting && after !== undefined,
    };
  });
}

/** The outcome for a text, line by line. */
const patchOf = (file: string, before: string, after: string): string[] =>
  createTwoFilesPatch(file, file, before, after, '', '', { context: 2 })
    .split('\n')
    .map((line) => line.trimEnd())
    .filter((line, index) => index > 1 && line !== '' && !line.startsWith('\\ No newline'));

interface TypeProposal {
  readonly proposals: readonly Proposal[];
  readonly file?: { readonly file: string; readonly before: string; readonly text: string };
}

/** What of a learnt type the model does not say. */
function newIn(type: LearntType, workspace: Workspace, keys: ReadonlyMap<string, string>): TypeProposal {
  const { root, model } = workspace;
  const existing = ownValue(model.definition.types, type.name);
  if (!existing) {
    const file = `model/types/${type.name}.yaml`;
    const proposals = [
      { address: type.name, says: `a type of ${type.fields.length} fields`, evidence: `${type.entries} entries` },
    ];
    return { proposals, file: { file, before: '', text: typeFile(type) } };
  }

  const file = workspace.fileOf(['types', type.name]) ?? `model/types/${type.name}.yaml`;
  const before = readTextOrRefuse(path.join(root, file), file, workspace.limits);
  const reading = readYaml(before, workspace.limits);
  const data = 'value' in reading ? reading.value.data : null;
  const changes = type.fields.flatMap((field) => {
    const cached = ownValue(existing.fields, field.name);
    // The text of a file is the one of the field which the model has for it.
    if (field.definition.body === true && model.types.get(type.name)?.body) return [];
    const key = keys.get(field.name);
    if (key !== undefined) return [called(key, addition(type.name, field, data))];
    if (cached) return newValues(type.name, field, cached, data);
    return [addition(type.name, field, data)];
  });
  const edits = changes.flatMap(({ edit }) => edit ?? []);

  return compact({
    proposals: changes.map(({ proposal }) => proposal),
    file: edits.length > 0 ? { file, before, text: editedText(file, before, edits) } : undefined,
  });
}

interface Change {
  readonly proposal: Proposal;
  readonly edit?: Edit;
}

/** A field that entries keep under a key which no field can be called: first it has to be stated that this is it. */
const called = (key: string, { proposal }: Change): Change => ({
  proposal: {
    ...proposal,
    open: `no field can be called ${quote(key, 30)}: say in lumbrik.yaml, where the entries are kept, that it is, as \`fields: { ${proposal.address.split('.').at(-1)}: ${JSON.stringify(key)} }\``,
  },
});

function addition(type: string, field: LearntField, data: Json): Change {
  const definition = valueDoc(field);
  const proposal = {
    address: `${type}.${field.name}`,
    says: `a field: ${String(definition.kind)}${definition.many === undefined ? '' : ', a list'}`,
    evidence: field.evidence,
  };

  // What nobody wrote down is not asked of anybody yet: the entries to come may lack it.
  if (at(data, ['fields']) === undefined)
    return { proposal, edit: { do: 'set', path: ['fields'], value: { [field.name]: definition } } };
  return { proposal, edit: { do: 'insert', path: ['fields'], key: field.name, value: definition } };
}

/** Choices that are in entries, and that a field does not have. */
function newValues(type: string, field: LearntField, existing: FieldDoc, data: Json): readonly Change[] {
  if (existing.kind !== 'choice' || field.definition.kind !== 'choice' || !isList(field.definition.choices)) return [];

  const had = new Set(
    (isList(existing.choices) ? existing.choices : []).map((value) => (isObject(value) ? value.choice : value)),
  );
  const fresh = field.definition.choices.filter((choice) => !had.has(choice));
  if (fresh.length === 0) return [];

  const place = ['fields', field.name, 'choices'];
  const proposal = {
    address: `${type}.${field.name}`,
    says: `more choices: ${fresh.map((value) => quote(value, 30)).join(', ')}`,
    evidence: field.evidence,
  };

  if (isList(at(data, place) ?? null)) return [{ proposal, edit: { do: 'append', path: place, items: fresh } }];
  return [{ proposal: { ...proposal, open: 'the field is defined elsewhere: add them there' } }];
}
