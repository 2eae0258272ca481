import type { MigrationStep } from '../../core/migration/read.ts';
import type { Renames } from '../renameOptions.ts';

/** What steps say of renames and moves, as a person would say it on the command line. */
export function saidIn(steps: readonly MigrationStep[]): Required<Omit<Renames, 'notRenamed'>> {
  const addressesOf = (verb: string): readonly string[] =>
    steps
      // What goes along a reference to another type is no move to the caller: it is recognised anew.
      .filter(({ kind, data }) => kind.verb === verb && data.along === undefined)
      .map(({ address, data }) => `${address}=${String(data.to)}`);

  return { renamed: addressesOf('rename'), moved: addressesOf('move') };
}
