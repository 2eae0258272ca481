import type { Assets } from '../core/entry/assets.ts';
import { readAssets } from '../workspace/assets.ts';
import { timestamp } from '../workspace/clock.ts';

/** What checking looks at beside entries: the moment, and the files that they may name. */
export interface Circumstances {
  readonly currentTime: string;
  readonly assets?: Assets | undefined;
}

/** The circumstances of a workspace, now. */
export const circumstancesOf = async (root: string): Promise<Circumstances & { readonly assets: Assets }> => ({
  currentTime: timestamp(),
  assets: await readAssets(root),
});
