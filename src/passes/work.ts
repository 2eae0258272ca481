import type { Assets } from '../core/entry/assets.ts';
import type { Model } from '../core/model/link.ts';

/** What another thread is told of checking: plain data. */
interface CheckWork extends Pick<Model, 'definition' | 'contentTerms'> {
  readonly pass: 'check';
  /** The moment at which all threads check. */
  readonly now: string;
  readonly assets: Assets | undefined;
}

/** The same of counting how fields are used. */
interface ProfileWork extends Pick<Model, 'definition' | 'contentTerms'> {
  readonly pass: 'profile';
  /** The types that are asked about. */
  readonly types: readonly string[];
}

/** What another thread is told of a pass. */
export type PassWork = CheckWork | ProfileWork;
