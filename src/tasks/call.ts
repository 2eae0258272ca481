import type { ReadProgress } from '../passes/progress.ts';

/** How a task is called: the same for all of them. */
export interface Call {
  /** The folder of the workspace; the nearest one upwards where none is named. */
  readonly workspace: string | undefined;
  /** Called with the amount read, so that progress can be shown. */
  readonly watch?: (read: ReadProgress) => void;
}
