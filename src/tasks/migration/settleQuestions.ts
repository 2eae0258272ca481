import path from 'node:path';
import type { MigrationStep } from '../../core/migration/read.ts';
import { isObject, ownValue } from '../../core/plain/json.ts';
import { usualLimits } from '../../core/plain/limits.ts';
import type { Edit } from '../../core/source/editOperation.ts';
import { changeFiles } from '../../journal/change.ts';
import { editedText } from '../../workspace/edited.ts';
import { readTextOrRefuse } from '../../workspace/files.ts';
import type { Call } from '../call.ts';
import { findMigration } from '../migrationFiles.ts';
import { reading, writing } from '../openForCall.ts';
import { checkedText } from './prove.ts';
import { rehearse } from './rehearse.ts';

/** Open steps whose field applies under a condition: whether entries need it may hang on what others were answered. */
const hangsOnOthers = ({ open, kind, data }: MigrationStep): boolean =>
  open !== undefined &&
  ['add', 'change'].includes(kind.verb) &&
  [data.field, data.to].some((definition) => isObject(definition) && ownValue(definition, 'when') !== undefined);

/**
 * Answers the questions under a condition that no entry asks any more, by taking the entries through the migration as it
 * is answered so far.
 * @returns the numbers of their steps.
 */
export async function settleQuestions(call: Call, typed: string): Promise<readonly number[]> {
  const { root } = await reading(call);
  const waiting = findMigration(root, typed).migration.steps.filter(hangsOnOthers);
  if (waiting.length === 0) return [];

  const { findings, findingsAfter } = await rehearse(call, typed, { isAside: true });
  const isWholeTold = findingsAfter.filter(({ isNew }) => isNew).length === findings.new;
  const asking = new Set(findingsAfter.flatMap(({ isNew, step }) => (isNew && step !== undefined ? [step] : [])));
  const settled = isWholeTold ? waiting.filter(({ number }) => !asking.has(number)) : [];
  if (settled.length === 0) return [];
  return writing(call, async (workspace) => {
    const file = findMigration(workspace.root, typed);
    const before = readTextOrRefuse(path.join(workspace.root, file.file), file.file, usualLimits);
    // What is suggested is for entries that need it: none does.
    const edits = settled.map(
      ({ number, suggest }): Edit => ({
        do: 'set',
        path: ['steps', number - 1, 'answer'],
        value: suggest ? 'no' : 'yes',
      }),
    );
    const text = await checkedText(workspace, file, editedText(file.file, before, edits));
    changeFiles(workspace.root, [{ file: file.file, text, from: file.hash }]);

    return settled.map(({ number }) => number);
  });
}
