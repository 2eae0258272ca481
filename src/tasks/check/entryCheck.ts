import type { Assets } from '../../core/entry/assets.ts';
import { type CheckPass, checkPass, unreadFinding } from '../../passes/check.ts';
import type { CheckContext, Checked } from '../../passes/checked.ts';
import type { LocatedFinding } from '../../passes/locatedFinding.ts';
import { unreadFiles } from '../../stores/open.ts';
import type { EntryStore } from '../../stores/store.ts';
import { readAssets } from '../../workspace/assets.ts';
import type { MemorySpace } from '../../workspace/memory/partMemory.ts';
import type { Workspace } from '../../workspace/open.ts';
import { DiskOverflow } from '../../workspace/overflow.ts';
import { memorySpaceOf } from '../memorySpace.ts';

/**
 * The check of the entries of a workspace, with all that is beside them.
 * @param options who takes findings while the check lasts, and whether only findings are needed.
 */
export async function entryCheck(
  workspace: Workspace,
  store: EntryStore,
  options: Partial<Pick<CheckContext, 'tell' | 'findingsAlone'>> = {},
): Promise<CheckPass> {
  const { root, model, placeOf } = workspace;
  const assets = await readAssets(root);
  const memory = memorySpace(workspace, store, assets);
  return checkPass(store, model, { assets, placeOf, memory, overflow: new DiskOverflow(root), ...options });
}

/** Problems of the entries, and with files that are none. */
export const allFindings = (workspace: Workspace, { findings }: Checked): readonly LocatedFinding[] => [
  ...unreadFiles(workspace).map(unreadFinding),
  ...findings,
];

/** Where a check keeps its findings in parts of stores: under all that this depends on beside the entries. */
function memorySpace({ root, model }: Workspace, { home }: EntryStore, assets: Assets): MemorySpace | undefined {
  const { definition, contentTerms } = model;
  return home && memorySpaceOf('check', root, home, [definition, [...contentTerms], [...assets]]);
}
