import type { Assets } from '../core/entry/assets.ts';

/** What checking looks at beside entries: the moment, and the files that they may name. */
export interface Circumstances {
  readonly currentTime: string;
  readonly assets?: Assets | undefined;
}
