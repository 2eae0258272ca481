import { z } from 'zod';
import { limitsOf } from '../core/plain/limits.ts';
import { changeFiles, type WantedChange } from '../journal/change.ts';
import { refuseInterrupted } from '../journal/settle.ts';
import { hashBytes } from '../workspace/files.ts';
import { openWorkspace } from '../workspace/open.ts';
import { readSettings } from '../workspace/settings.ts';
import { upgradedFiles } from '../workspace/upgraded.ts';
import type { Call } from './call.ts';
import { settledAlone } from './openForCall.ts';
import { head, resultVersion } from './result.ts';
import { keptSchemaChanges } from './schemas.ts';

/** The result of `lumbrik upgrade`. */
export const UpgradeResult = z.strictObject({
  ...head('upgrade'),
  /** The files that were rewritten. */
  files: z.array(z.string()),
  /** How many mistakes the model has now. */
  mistakes: z.int(),
});
export type UpgradeResult = z.output<typeof UpgradeResult>;

/** Rewrites the keys of earlier models in the model's files. The model means the same and keeps its hash. @throws {Trouble} */
export async function upgrade(call: Call): Promise<UpgradeResult> {
  return settledAlone(call, (root) => {
    refuseInterrupted(root);
    const upgraded = upgradedFiles(root, limitsOf(readSettings(root).limits));
    const changes = upgraded.map(({ file, before, text }): WantedChange => ({ file, text, from: hashBytes(before) }));
    const after = openWorkspace(root, new Map(changes.map(({ file, text }) => [file, text])));
    const schemas = after.mistakes.length === 0 ? keptSchemaChanges(after) : [];
    if (changes.length > 0) changeFiles(root, [...changes, ...schemas]);

    return {
      lumbrik: resultVersion,
      command: 'upgrade',
      files: changes.map(({ file }) => file),
      mistakes: after.mistakes.length,
    };
  });
}
